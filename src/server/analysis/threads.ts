import { availableParallelism } from "node:os";
import { runHere, type MicTask, type MicTaskRunner, type MicTasks } from "../../core/analysis/micTasks";
import { askAll, bundledFile, Desk, Thread } from "../thread";
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

/** Threads for the analysis of one song; `close` is done once they have ended, also in the middle of a task. */
export interface AnalysisThreads {
  readonly run: MicTaskRunner;
  /** As `run`, for what nobody waits for yet: it is done where `run` leaves a thread free, and one thread is left to it. */
  readonly runBeside: MicTaskRunner;
  close(): Promise<void>;
}

/** Spreads the mics over as many threads as there are cores; the answers are the same for any number. */
export function analysisThreads(threads = availableParallelism()): AnalysisThreads {
  return threads < 2 ? alone : crewOf(threads);
}

/** This thread, one task after another. */
const alone: AnalysisThreads = { run: runHere, runBeside: runHere, close: async () => {} };

/** So many threads beside this one; this one alone where they were not built. */
function crewOf(threads: number): AnalysisThreads {
  const file = bundledFile("taskWorker.mjs");
  if (!file) return alone;
  const crew = Array.from({ length: threads }, () => new Thread<TaskMessage, TaskReply>(file));
  const desk = new Desk(crew);
  const runner =
    (waits: "urgent" | "later", atOnce: number): MicTaskRunner =>
    async (kind, asks, done) => {
      const lane = {
        ask: async (message: TaskMessage) => {
          const reply = await desk.ask(message, waits);
          if ("error" in reply) throw reply.error;
          return reply.answer;
        },
      };
      const messages = asks.map((ask): TaskMessage => ({ kind, ask }));
      return (await askAll(
        new Array(atOnce).fill(lane),
        messages,
        done,
      )) as MicTasks[typeof kind]["answer"][];
    };
  return {
    run: runner("urgent", threads),
    runBeside: runner("later", Math.max(1, threads - 1)),
    close: async () => {
      await Promise.all(crew.map((t) => t.close()));
    },
  };
}
