import { availableParallelism } from "node:os";
import { runHere, type MicTaskRunner, type MicTasks } from "../../core/analysis/micTasks";
import { askAll, bundledFile, Thread } from "../thread";
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
  const answering = crew.map((thread) => ({
    ask: async (message: TaskMessage) => {
      const reply = await thread.ask(message);
      if ("error" in reply) throw new Error(reply.error);
      return reply.answer;
    },
  }));
  return {
    run: async (kind, asks, done) =>
      (await askAll(
        answering,
        asks.map((ask): TaskMessage => ({ kind, ask })),
        done,
      )) as MicTasks[typeof kind]["answer"][],
    close: () => crew.forEach((t) => t.close()),
  };
}
