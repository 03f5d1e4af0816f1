import { inTransaction, pool, type Db } from "../db/pool";
import { beatTask, finishTask, holdTask, type ClaimedTask } from "../db/queries/task";

/** The owner of a task wants it to end. */
export class Cancelled extends Error {}
/** A task was given to another worker, because this one gave no sign of life for too long. */
export class Lost extends Error {}

/** What a job needs of its turn. */
export interface Job {
  /** Notes a share of the work, 0..1, and what is done now where that is told. Errors  whatever shall end it. */
  readonly report: (share: number, doing?: string) => void;
  /** Writes what was worked out, all of it or nothing. */
  readonly commit: <T extends object | null | void>(work: (db: Db) => Promise<T>) => Promise<T>;
}

/** A job that is nobody's task: it cannot be stopped, and nobody else has it. */
export const noTask: Job = { report: () => {}, commit: inTransaction };

/** How often a worker gives a sign of life, ms. */
const beatEvery = 400;

/**
 * One worker's turn at a task: notes progress a few times a second, learns whether to stop, and takes over the result only while the
 * task is still its own.
 */
export class Turn implements Job {
  private share = 0;
  private doing = "";
  private stop = false;
  private readonly timer: NodeJS.Timeout;
  /** What was done is in the database. */
  committed = false;

  constructor(private readonly task: ClaimedTask) {
    this.timer = setInterval(() => void this.beat(), beatEvery);
  }
  private async beat(): Promise<void> {
    this.stop ||= await beatTask(pool(), this.task, Math.min(1, this.share), this.doing).catch(() => false);
  }

  /** Notes a share of the work. Errors  Cancelled when it is to stop. */
  readonly report = (share: number, doing = this.doing): void => {
    this.share = share;
    this.doing = doing;
    if (this.stop) throw new Cancelled("stopped by its owner, or done by another worker");
  };

  /**
   * Writes what was worked out and ends the task, all of it or nothing: it is never written twice, and never after somebody was told
   * that nothing was changed.
   * Errors  Lost, Cancelled; what `work` throws.
   */
  readonly commit: Job["commit"] = async (work) => {
    const result = await inTransaction(async (db) => {
      const made = await work(db);
      // Held only now: signs of life go on while much is written.
      const held = await holdTask(db, this.task);
      if (held === "lost") throw new Lost("another worker has this task");
      if (held === "stop") throw new Cancelled("stopped by its owner");
      await finishTask(db, this.task, "done", "", made ?? null);
      return made;
    });
    this.committed = true;
    return result;
  };

  end(): void {
    clearInterval(this.timer);
  }
}
