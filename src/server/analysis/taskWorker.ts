import { parentPort } from "node:worker_threads";
import { doMicTask, type MicTask, type MicTasks } from "../../core/analysis/micTasks";
import { withSpooled } from "./fromThread";

/** One task for a thread, and its answer. */
export interface TaskMessage<K extends MicTask = MicTask> {
  readonly kind: K;
  readonly ask: MicTasks[K]["ask"];
}
export type TaskReply = { readonly answer: MicTasks[MicTask]["answer"] } | { readonly error: Error };

// Entry of an analysis thread.
parentPort!.on("message", ({ kind, ask }: TaskMessage) => {
  let reply: TaskReply;
  try {
    reply = { answer: doMicTask(kind, withSpooled(ask)) };
  } catch (error) {
    // A copy of an error keeps its kind: what is refused in words stays that on the other side.
    reply = { error: error instanceof Error ? error : new Error(String(error)) };
  }
  parentPort!.postMessage(reply);
});
