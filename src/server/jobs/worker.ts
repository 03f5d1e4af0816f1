import type { TaskKind } from "../../contract";
import { pool } from "../db/pool";
import { beatTask, claimTask, finishTask, reviveTasks, type TaskRow } from "../db/queries/task";
import { AppError } from "../errors";
import { log } from "../log";
import { analyseSong } from "./analyseSong";
import { correctClocks } from "./correctClock";
import { exportSong } from "./exportSong";
import { followLabels } from "./followLabels";
import { tightenSong, type TightenOptions } from "./tightenSong";
import { enqueue, queueName, startBoss } from "./queue";

class Cancelled extends Error {}

/** Notes progress a few times a second and learns whether to stop; the work itself only calls `report`. */
class Pulse {
  private share = 0;
  private stop = false;
  private readonly timer: NodeJS.Timeout;
  constructor(private readonly taskId: string) {
    this.timer = setInterval(() => void this.beat(), 400);
  }
  private async beat(): Promise<void> {
    this.stop ||= await beatTask(pool(), this.taskId, Math.min(1, this.share)).catch(() => false);
  }
  readonly report = (share: number): void => {
    this.share = share;
    if (this.stop) throw new Cancelled("stopped by its owner");
  };
  end(): void {
    clearInterval(this.timer);
  }
}

const works: Readonly<
  Record<TaskKind, (task: TaskRow, report: (share: number) => void) => Promise<object | null>>
> = {
  analyse: async ({ songId, options }, report) => {
    await (options["labels"] ? followLabels : analyseSong)(songId, report);
    return null;
  },
  clock: async ({ songId, options }, report) => {
    await correctClocks(songId, options["mics"] as string[], report);
    return null;
  },
  tighten: async ({ songId, options }, report) => {
    await tightenSong(songId, options as unknown as TightenOptions, report);
    return null;
  },
  export: ({ songId, options }, report) => exportSong(songId, options, report),
};

async function work(taskId: string): Promise<void> {
  const task = await claimTask(pool(), taskId);
  if (!task) return; // taken by another worker, or cancelled while it waited
  const pulse = new Pulse(taskId);
  try {
    const result = await works[task.kind](task, pulse.report);
    await finishTask(pool(), taskId, "done", "", result);
  } catch (error) {
    if (error instanceof Cancelled)
      return await finishTask(pool(), taskId, "cancelled", "Stopped. Nothing was changed.", null);
    const known = error instanceof AppError;
    if (!known)
      log.error({ taskId, error: error instanceof Error ? error.stack : String(error) }, "task failed");
    await finishTask(
      pool(),
      taskId,
      "failed",
      known ? error.message : "The work failed; the song is unchanged. The server's log says why.",
      null,
    );
  } finally {
    pulse.end();
  }
}

/**
 * Takes tasks from the queue until the process is told to stop. Tasks whose worker died are taken up again.
 * Several workers on several machines may run against one database.
 */
export async function runWorker(connectionString: string): Promise<void> {
  process.env["DATABASE_URL"] = connectionString;
  const boss = await startBoss(connectionString, true);
  const revive = async () => {
    for (const id of await reviveTasks(pool())) await enqueue(boss, id);
  };
  await revive();
  const timer = setInterval(
    () => void revive().catch((e: Error) => log.warn({ error: e.message }, "revive")),
    10000,
  );
  await boss.work<{ taskId: string }>(queueName, { pollingIntervalSeconds: 0.5 }, async (jobs) => {
    for (const job of jobs) await work(job.data.taskId);
  });
  log.info("worker ready");
  await new Promise<void>((resolve) => {
    for (const signal of ["SIGTERM", "SIGINT"] as const) process.once(signal, () => resolve());
    process.once("disconnect", () => resolve()); // the web process that started us has ended
  });
  clearInterval(timer);
  await boss.stop({ graceful: false, wait: false });
  process.exit(0);
}
