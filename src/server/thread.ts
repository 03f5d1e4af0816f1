import { existsSync } from "node:fs";
import { dirname, join } from "node:path";
import { Worker } from "node:worker_threads";

/** A bundled entry of a thread: beside the command line, or in the project's build; null where nothing was built. */
export function bundledFile(name: string): string | null {
  const beside = join(dirname(process.argv[1] ?? "."), name);
  return [beside, join(process.cwd(), "dist", name)].find((f) => existsSync(f)) ?? null;
}

/** What answers a message. */
export interface Answering<Message, Reply> {
  ask(message: Message): Promise<Reply>;
}

/** A thread that answers one message at a time. Once it broke, every question fails. */
export class Thread<Message, Reply> implements Answering<Message, Reply> {
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
  /** Done once the thread has ended, also in the middle of its work. */
  async close(): Promise<void> {
    await this.worker.terminate();
  }
}

/** Hands messages to whichever thread is free, those that are waited for before those that have time. */
export class Desk<Message, Reply> {
  private readonly free: Answering<Message, Reply>[];
  private readonly urgent: ((thread: Answering<Message, Reply>) => void)[] = [];
  private readonly later: ((thread: Answering<Message, Reply>) => void)[] = [];
  constructor(crew: readonly Answering<Message, Reply>[]) {
    this.free = [...crew];
  }
  async ask(message: Message, waits: "urgent" | "later"): Promise<Reply> {
    const thread = await new Promise<Answering<Message, Reply>>((resolve) => {
      this[waits].push(resolve);
      this.hand();
    });
    try {
      return await thread.ask(message);
    } finally {
      this.free.push(thread);
      // Whoever asked asks its next before this, and so goes before what has time.
      setImmediate(() => this.hand());
    }
  }
  private hand(): void {
    while (this.free.length > 0) {
      const next = this.urgent.shift() ?? this.later.shift();
      if (!next) return;
      next(this.free.pop()!);
    }
  }
}

/**
 * Asks every message of whichever thread is free; answers in the order of the messages. `done` is told after each.
 * Errors  that of the first question that fails.
 */
export async function askAll<Message, Reply>(
  crew: readonly Answering<Message, Reply>[],
  messages: readonly Message[],
  done: (count: number) => void = () => {},
): Promise<Reply[]> {
  const replies = new Array<Reply>(messages.length);
  let next = 0;
  let count = 0;
  const work = async (thread: Answering<Message, Reply>): Promise<void> => {
    for (let i = next++; i < messages.length; i = next++) {
      replies[i] = await thread.ask(messages[i]!);
      done(++count);
    }
  };
  await Promise.all(crew.map(work));
  return replies;
}
