import { pool } from "@/server/db/pool";
import { restoreSong } from "@/server/db/queries/song";
import { songGone } from "@/server/errors";
import { idOf, respond } from "@/server/http/respond";

/** Brings a deleted song back. */
export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> =>
  respond(async () => {
    if (!(await restoreSong(pool(), await idOf(params)))) throw songGone();
    return { restored: true };
  });
