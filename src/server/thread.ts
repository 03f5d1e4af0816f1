import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { Worker } from "node:worker_threads";

/** A bundled entry of a thread: beside the command line, or in the project's build; null where nothing was built. */
export function bundledFile(name: string): string | null {
  const beside = join(dirname(process.argv[1] ?? "."), name);
  return [beside, join(process.cwd(), "dist", name)].find((f) => existsSync(f)) ?? null;
}

/** A thread that answers one message at a time. Once it broke, every question fails. */
export class Thread<Message, Reply> {
  private readonly worker: Worker;
  private waiting: { resolve: (reply: Reply) => void; reject: (error: Error) => void } | null = null;
  private broken: Error | null = null;

  constructor(file: string, workerData: unknown = null) {
    this.worker = new Worker(file, { workerData });
    this.worker.on("message", (reply: Reply) => {
      const { waiting } = this;
      this.waiting = null;
      waiting?.resolve(reply);
    });
    this.worker.on("error", (error) => this.fail(error));
    this.worker.on("exit", () => this.fail(new Error("a thread ended before its work was done")));
  }
  private fail(error: Error): void {
    this.broken ??= error;
    this.waiting?.reject(this.broken);
    this.waiting = null;
  }
  ask(message: Message): Promise<Reply> {
    return new Promise((resolve, reject) => {
      if (this.broken) return reject(this.broken);
      this.waiting = { resolve, reject };
      this.worker.postMessage(message);
    });
  }
  /** Lets the program end while this thread has nothing to do; `ref` has it waited for again. */
  unref(): void {
    this.worker.unref();
  }
  ref(): void {
    this.worker.ref();
  }
  close(): void {
    void this.worker.terminate();
  }
}

/**
 * Asks every message of whichever thread is free; answers in the order of the messages. `done` is told after each.
 * Errors  that of the first question that fails.
 */
export async function askAll<Message, Reply>(
  crew: readonly Pick<Thread<Message, Reply>, "ask">[],
  messages: readonly Message[],
  done: (count: number) => void = () => {},
): Promise<Reply[]> {
  const replies = new Array<Reply>(messages.length);
  let next = 0;
  let count = 0;
  const work = async (thread: Pick<Thread<Message, Reply>, "ask">): Promise<void> => {
    for (let i = next++; i < messages.length; i = next++) {
      replies[i] = await thread.ask(messages[i]!);
      done(++count);
    }
  };
  await Promise.all(crew.map(work));
  return replies;
}
