import { availableParallelism } from "node:os";
import { runHere, type MicTaskRunner, type MicTasks } from "../../core/gather/micTasks";
import { bundledFile, Thread } from "../thread";
import type { TaskMessage, TaskReply } from "./taskWorker";

/** Threads for the analysis of one song; `close` ends them, also in the middle of a task. */
export interface AnalysisThreads {
  readonly run: MicTaskRunner;
  close(): void;
}

/** Spreads the mics over as many threads as there are cores; the answers are the same for any number. */
export function analysisThreads(threads = availableParallelism()): AnalysisThreads {
  const file = bundledFile("taskWorker.mjs");
  if (threads < 2 || !file) return { run: runHere, close: () => {} };
  const crew = Array.from({ length: threads }, () => new Thread<TaskMessage, TaskReply>(file));
  return {
    run: async (kind, asks, done = () => {}) => {
      const answers = new Array<MicTasks[typeof kind]["answer"]>(asks.length);
      let next = 0;
      let count = 0;
      const work = async (thread: (typeof crew)[number]): Promise<void> => {
        for (let i = next++; i < asks.length; i = next++) {
          const reply = await thread.ask({ kind, ask: asks[i]! });
          if ("error" in reply) throw new Error(reply.error);
          answers[i] = reply.answer as MicTasks[typeof kind]["answer"];
          done(++count);
        }
      };
      await Promise.all(crew.map(work));
      return answers;
    },
    close: () => crew.forEach((t) => t.close()),
  };
}
