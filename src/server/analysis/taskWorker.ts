import { parentPort } from "node:worker_threads";
import { doMicTask, type MicTask, type MicTasks } from "../../core/analysis/micTasks";

/** One task for a thread, and its answer. */
export interface TaskMessage<K extends MicTask = MicTask> {
  readonly kind: K;
  readonly ask: MicTasks[K]["ask"];
}
export type TaskReply = { readonly answer: MicTasks[MicTask]["answer"] } | { readonly error: string };

// Entry of an analysis thread.
parentPort!.on("message", ({ kind, ask }: TaskMessage) => {
  let reply: TaskReply;
  try {
    reply = { answer: doMicTask(kind, ask) };
  } catch (error) {
    reply = { error: error instanceof Error ? error.message : String(error) };
  }
  parentPort!.postMessage(reply);
});
