import { availableParallelism } from "node:os";
import { runHere, type MicTask, type MicTaskRunner, type MicTasks } from "../../core/analysis/micTasks";
import { askAll, bundledFile, Thread } from "../thread";
import type { TaskMessage, TaskReply } from "./taskWorker";

/** Does one task on a thread of its own, so that the interface's other questions are answered meanwhile. */
export async function onThread<K extends MicTask>(
  kind: K,
  ask: MicTasks[K]["ask"],
): Promise<MicTasks[K]["answer"]> {
  const threads = crewOf(1);
  const [answer] = await threads.run(kind, [ask]).finally(threads.close);
  return answer!;
}

/** Threads for the analysis of one song; `close` ends them, also in the middle of a task. */
export interface AnalysisThreads {
  readonly run: MicTaskRunner;
  close(): void;
}

/** Spreads the mics over as many threads as there are cores; the answers are the same for any number. */
export function analysisThreads(threads = availableParallelism()): AnalysisThreads {
  return threads < 2 ? alone : crewOf(threads);
}

/** This thread, one task after another. */
const alone: AnalysisThreads = { run: runHere, close: () => {} };

/** So many threads beside this one; this one alone where they were not built. */
function crewOf(threads: number): AnalysisThreads {
  const file = bundledFile("taskWorker.mjs");
  if (!file) return alone;
  const crew = Array.from({ length: threads }, () => new Thread<TaskMessage, TaskReply>(file));
  const answering = crew.map((thread) => ({
    ask: async (message: TaskMessage) => {
      const reply = await thread.ask(message);
      if ("error" in reply) throw reply.error;
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
