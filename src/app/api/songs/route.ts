import { pool } from "@/server/db/pool";
import { listSongs } from "@/server/db/queries/song";
import { jsonBody, respond, valid } from "@/server/http/respond";
import { createSchema } from "@/server/http/schemas";
import { createSong } from "@/server/useCases/createSong";

export const dynamic = "force-dynamic";

/** Songs that are there, or with `?deleted` those that can be brought back. */
export const GET = (request: Request): Promise<Response> =>
  respond(async () => ({
    songs: await listSongs(pool(), new URL(request.url).searchParams.has("deleted")),
  }));

export const POST = (request: Request): Promise<Response> =>
  respond(async () => ({ id: await createSong(valid(createSchema, await jsonBody(request)).title) }));
