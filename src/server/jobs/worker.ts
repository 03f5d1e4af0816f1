import type { TaskKind } from "../../contract";
import { pool } from "../db/pool";
import { checkVersion, OtherVersion } from "../db/version";
import { claimTask, finishTask, type TaskRow } from "../db/queries/task";
import { whyFailed } from "../errors";
import { log } from "../log";
import { sweepOwnFoldersSoon } from "../ownFolder";
import { analyseSong } from "./analyseSong";
import { correctClocks } from "./correctClock";
import { exportSong } from "./exportSong";
import { followLabels } from "./followLabels";
import { tightenSong, type TightenOptions } from "./tightenSong";
import { Cancelled, Lost, Turn } from "./turn";
import { sweepSoon } from "./sweep";
import { enqueueAgain, queueName, startBoss } from "./queue";
import { revive } from "./revive";
import { whenWoken } from "./wakeWorkers";

/** How often store and disk are looked through for what nobody needs, ms; a song that is deleted has it done at once. */
const sweepEvery = 600_000;

const works: Readonly<Record<TaskKind, (task: TaskRow, turn: Turn) => Promise<unknown>>> = {
  analyse: ({ songId, options }, turn) => (options["labels"] ? followLabels : analyseSong)(songId, turn),
  clock: ({ songId, options }, turn) => correctClocks(songId, options["mics"] as string[], turn),
  tighten: ({ songId, options }, turn) => tightenSong(songId, options as unknown as TightenOptions, turn),
  export: ({ songId, options }, turn) => exportSong(songId, options, turn),
};

/** Does one task of the queue; how it ended stands in its row. */
export async function work(taskId: string): Promise<void> {
  const task = await claimTask(pool(), taskId);
  if (!task) return; // taken by another worker, or cancelled while it waited
  const turn = new Turn(task);
  const end = (state: "done" | "failed" | "cancelled", message: string) =>
    finishTask(pool(), task, state, message, null);
  try {
    await works[task.kind](task, turn);
    if (!turn.committed) await end("done", "");
  } catch (error) {
    if (error instanceof Lost) return log.warn({ taskId }, "another worker has this task");
    if (error instanceof Cancelled) return await end("cancelled", "Stopped. Nothing was changed.");
    const { known, message } = whyFailed(error);
    if (!known)
      log.error({ taskId, error: error instanceof Error ? error.stack : String(error) }, "task failed");
    await end("failed", message);
  } finally {
    turn.end();
  }
}

/**
 * Takes tasks from the queue until the process is told to stop. Tasks whose worker died are taken up again.
 * Several workers on several machines may run against one database. Errors  Error in words where that is of another version.
 */
export async function runWorker(connectionString: string): Promise<void> {
  process.env["DATABASE_URL"] = connectionString;
  await checkVersion(pool());
  const boss = await startBoss(connectionString, true);
  await revive(boss);
  const timer = setInterval(
    () => void revive(boss).catch((e: Error) => log.warn({ error: e.message }, "revive")),
    10000,
  );
  const sweep = () => {
    sweepSoon();
    sweepOwnFoldersSoon();
  };
  sweep();
  const sweeper = setInterval(sweep, sweepEvery);
  const worker = await boss.work<{ taskId: string }>(
    queueName,
    { pollingIntervalSeconds: 0.5 },
    async (jobs) => {
      for (const job of jobs) {
        // The application may have been brought up to date while this one ran.
        await checkVersion(pool()).catch(async (error: unknown) => {
          if (!(error instanceof OtherVersion)) throw error;
          log.error({ error: error.message }, "worker ends");
          await enqueueAgain(boss, job.data.taskId);
          process.exit(1);
        });
        await work(job.data.taskId);
      }
    },
  );
  const deafen = whenWoken(connectionString, () => boss.notifyWorker(worker));
  log.info("worker ready");
  await new Promise<void>((resolve) => {
    for (const signal of ["SIGTERM", "SIGINT"] as const) process.once(signal, () => resolve());
    process.once("disconnect", () => resolve()); // the web process that started us has ended
  });
  clearInterval(timer);
  clearInterval(sweeper);
  void deafen(); // the program ends below, whether the database answers or not
  await boss.stop({ graceful: false, wait: false });
  process.exit(0);
}
