import { pool } from "@/server/db/pool";
import { listTasks } from "@/server/db/queries/task";
import { idOf, jsonBody, respond, valid } from "@/server/http/respond";
import { taskSchema } from "@/server/http/schemas";
import { startTask } from "@/server/jobs/queue";

type Context = { params: Promise<{ id: string }> };

export const GET = (_: Request, { params }: Context): Promise<Response> =>
  respond(async () => ({ tasks: await listTasks(pool(), await idOf(params)) }));

export const POST = (request: Request, { params }: Context): Promise<Response> =>
  respond(async () => {
    const id = await idOf(params);
    const { kind, options } = valid(taskSchema, await jsonBody(request));
    return startTask(id, kind, options);
  });
