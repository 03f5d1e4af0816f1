import PgBoss from "pg-boss";
import { pool } from "../db/pool";
import type { TaskKind } from "../../contract";
import { dropTask, findTask, insertTask, type TaskRow } from "../db/queries/task";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { log } from "../log";
import { wakeWorkers } from "./wakeWorkers";

export const queueName = "jubo";

const shared = globalThis as unknown as { juboBoss?: Promise<PgBoss> };

/** A pg-boss on DATABASE_URL; `worker` also looks after the queue. */
export async function startBoss(connectionString: string, worker: boolean): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString, max: 3, supervise: worker, schedule: false });
  boss.on("error", (error) => log.warn({ error: error.message }, "queue"));
  await boss.start();
  await boss.createQueue(queueName);
  return boss;
}

/** The queue of this process, started at first use; a start that failed is tried anew by the next. */
function sender(): Promise<PgBoss> {
  const started = (shared.juboBoss ??= startBoss(process.env["DATABASE_URL"]!, false));
  started.catch(() => {
    if (shared.juboBoss === started) delete shared.juboBoss;
  });
  return started;
}

/** Puts a task into the queue, under its own id. */
async function enqueue(boss: PgBoss, taskId: string): Promise<void> {
  await boss.send(queueName, { taskId }, { id: taskId, expireInHours: 4 });
}

/** Puts a task into the queue anew, whoever took it out of it. */
export async function enqueueAgain(boss: PgBoss, taskId: string): Promise<void> {
  await boss.deleteJob(queueName, taskId);
  await enqueue(boss, taskId);
}

/** True where a task lies in the queue and nobody has taken it out. */
export async function isQueued(boss: PgBoss, taskId: string): Promise<boolean> {
  const job = await boss.getJobById(queueName, taskId);
  return job?.state === "created" || job?.state === "retry";
}

/** Starts long work on a song. */
export async function startTask(songId: string, kind: TaskKind, options: object): Promise<TaskRow> {
  if (!(await findSong(pool(), songId))) throw songGone();
  const task = await insertTask(pool(), songId, kind, options);
  try {
    await enqueue(await sender(), task.id);
    await wakeWorkers(pool()).catch(() => {}); // they look by themselves
  } catch (error) {
    // Nobody would ever take it up.
    await dropTask(pool(), task.id, "The work could not be put into the queue; try again.").catch(() => {});
    throw error;
  }
  return task;
}

export async function readTask(id: string): Promise<TaskRow> {
  const task = await findTask(pool(), id);
  if (!task) throw new AppError("not_found", "There is no such task.");
  return task;
}
