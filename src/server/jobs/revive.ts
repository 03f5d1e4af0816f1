import type PgBoss from "pg-boss";
import { pool } from "../db/pool";
import { listLongWaiting, reviveTasks } from "../db/queries/task";
import { enqueueAgain, isQueued } from "./queue";

/**
 * Puts tasks back into the queue that nobody works on: their worker died over them, it died between taking one out and taking it up, or
 * whoever started one died before it was queued.
 */
export async function revive(boss: PgBoss): Promise<void> {
  for (const id of await reviveTasks(pool())) await enqueueAgain(boss, id);
  for (const id of await listLongWaiting(pool()))
    if (!(await isQueued(boss, id))) await enqueueAgain(boss, id);
}
