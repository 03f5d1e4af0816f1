import { availableParallelism } from "node:os";
import { Worker } from "node:worker_threads";
import { runHere, type MicTask, type MicTaskRunner, type MicTasks } from "../../core/gather/micTasks";
import { bundledFile } from "../bundled";
import type { TaskMessage, TaskReply } from "./taskWorker";

/** Threads for the analysis of one song; `close` ends them, also in the middle of a task. */
export interface AnalysisThreads {
  readonly run: MicTaskRunner;
  close(): void;
}

/** One thread; does one task at a time. */
class Thread {
  private readonly worker: Worker;
  private waiting: { resolve: (answer: never) => void; reject: (error: Error) => void } | null = null;
  private broken: Error | null = null;

  constructor(file: string) {
    this.worker = new Worker(file);
    this.worker.on("message", (reply: TaskReply) => {
      const { waiting } = this;
      this.waiting = null;
      if ("error" in reply) waiting?.reject(new Error(reply.error));
      else waiting?.resolve(reply.answer as never);
    });
    this.worker.on("error", (error) => this.fail(error));
    this.worker.on("exit", () => this.fail(new Error("an analysis thread ended")));
  }
  private fail(error: Error): void {
    this.broken ??= error;
    this.waiting?.reject(this.broken);
    this.waiting = null;
  }
  ask<K extends MicTask>(message: TaskMessage<K>): Promise<MicTasks[K]["answer"]> {
    return new Promise((resolve, reject) => {
      if (this.broken) return reject(this.broken);
      this.waiting = { resolve, reject };
      this.worker.postMessage(message);
    });
  }
  close(): void {
    void this.worker.terminate();
  }
}

/** Spreads the mics over as many threads as there are cores; the answers are the same for any number. */
export function analysisThreads(threads = availableParallelism()): AnalysisThreads {
  const file = bundledFile("taskWorker.mjs");
  if (threads < 2 || !file) return { run: runHere, close: () => {} };
  const crew = Array.from({ length: threads }, () => new Thread(file));
  return {
    run: async (kind, asks, done = () => {}) => {
      const answers = new Array<MicTasks[typeof kind]["answer"]>(asks.length);
      let next = 0;
      let count = 0;
      const work = async (thread: Thread): Promise<void> => {
        for (let i = next++; i < asks.length; i = next++) {
          answers[i] = await thread.ask({ kind, ask: asks[i]! });
          done(++count);
        }
      };
      await Promise.all(crew.map(work));
      return answers;
    },
    close: () => crew.forEach((t) => t.close()),
  };
}
