import { pool } from "@/server/db/pool";
import { discardSong } from "@/server/db/queries/song";
import { songGone } from "@/server/errors";
import { idOf, respond } from "@/server/http/respond";
import { sweepSoon } from "@/server/jobs/sweep";
import { openSong } from "@/server/useCases/editSong";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => openSong(await idOf(params)));

export const DELETE = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    if (!(await discardSong(pool(), await idOf(params)))) throw songGone();
    sweepSoon();
    return { deleted: true };
  });
