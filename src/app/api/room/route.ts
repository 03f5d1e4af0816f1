import { room } from "@/server/audio/room";
import { respond } from "@/server/http/respond";

export const dynamic = "force-dynamic";

/** Room on the disk and memory of the server, for what is about to be brought in. */
export const GET = (): Promise<Response> => respond(room);
