import { pool } from "@/server/db/pool";
import { listSongs } from "@/server/db/queries/song";
import { jsonBody, respond, valid } from "@/server/http/respond";
import { createSchema } from "@/server/http/schemas";
import { createSong } from "@/server/useCases/createSong";

export const dynamic = "force-dynamic";

export const GET = (): Promise<Response> => respond(async () => ({ songs: await listSongs(pool()) }));

export const POST = (request: Request): Promise<Response> =>
  respond(async () => ({ id: await createSong(valid(createSchema, await jsonBody(request)).title) }));
