import { Semaphore } from "async-mutex";
import { AudioFileError } from "../../core/file/sampleFormat";
import { bundledFile, Thread } from "../thread";
import { piecesOf } from "./pieces";
import { storeIncoming, type TakenIn } from "./storeIncoming";

/** A file on disk. */
export interface StoreAsk {
  readonly name: string;
  readonly bytes: number;
  readonly path: string;
}
export type StoreReply =
  | { readonly taken: TakenIn }
  /** `code`: by which the system or the database says what is missing. `unreadable`: the file is at fault. */
  | { readonly error: string; readonly code: string | undefined; readonly unreadable: boolean };

/** Files that are taken in at a time: as many as one page sends. */
const atOnce = 3;
/** A thread that had nothing to do for so long ends, ms. */
const keptFor = 5000;

const turns = new Semaphore(atOnce);
const idle: { readonly thread: Thread<StoreAsk, StoreReply>; readonly end: NodeJS.Timeout }[] = [];

function rest(thread: Thread<StoreAsk, StoreReply>): void {
  const end = setTimeout(() => {
    idle.splice(
      idle.findIndex((i) => i.thread === thread),
      1,
    );
    thread.close();
  }, keptFor);
  // Nobody waits for it: the program may end.
  end.unref();
  thread.unref();
  idle.push({ thread, end });
}

function wake(file: string): Thread<StoreAsk, StoreReply> {
  const kept = idle.pop();
  if (!kept) return new Thread(file);
  clearTimeout(kept.end);
  kept.thread.ref();
  return kept.thread;
}

/**
 * Takes a file on disk into the database, whole or not at all. Reading, hashing and checking hundreds of megabytes is done
 * on a thread of its own, so that the server goes on answering; here where threads were not built. Errors  AudioFileError.
 */
export const storeOnThread = (ask: StoreAsk): Promise<TakenIn> =>
  turns.runExclusive(async () => {
    const file = bundledFile("storeWorker.mjs");
    if (!file) return storeIncoming(ask.name, ask.bytes, piecesOf(ask.path));
    const thread = wake(file);
    const reply = await thread.ask(ask);
    rest(thread);
    if (!("taken" in reply))
      throw reply.unreadable
        ? new AudioFileError(reply.error)
        : Object.assign(new Error(reply.error), reply.code === undefined ? {} : { code: reply.code });
    const { stored, incoming } = reply.taken;
    // What comes from a thread comes as plain bytes.
    return { stored: { ...stored, sha256: Buffer.from(stored.sha256) }, incoming };
  });
