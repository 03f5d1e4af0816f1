import { idOf, respond } from "@/server/http/respond";
import { copySong } from "@/server/useCases/copySong";

/** A copy of a song, with the same audio. */
export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => ({ id: await copySong(await idOf(params)) }));
