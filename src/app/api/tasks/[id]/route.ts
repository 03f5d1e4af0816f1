import { pool } from "@/server/db/pool";
import { cancelTask } from "@/server/db/queries/task";
import { idOf, respond } from "@/server/http/respond";
import { readTask } from "@/server/jobs/queue";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => readTask(await idOf(params)));

/** Asks a task to stop. */
export const DELETE = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    await readTask(id);
    return { stopped: await cancelTask(pool(), id) };
  });
