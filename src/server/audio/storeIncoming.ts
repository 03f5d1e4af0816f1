import { AudioFileError } from "../../core/file/sampleFormat";
import { inTransaction } from "../db/pool";
import { IncomingAudio, type Incoming } from "./incoming";
import { storeFile, type StoredFile } from "./store";

/** A file as it lies in the database, and what was learnt of it on its way in. */
export interface TakenIn {
  readonly stored: StoredFile;
  readonly incoming: Incoming;
}

/** Stores a file as it comes; nothing stays of one that is no audio, or not all of it. Errors  AudioFileError. */
export async function storeIncoming(
  name: string,
  declaredBytes: number,
  source: AsyncIterable<Uint8Array>,
): Promise<TakenIn> {
  const watcher = new IncomingAudio(declaredBytes);
  return inTransaction(async (db) => {
    const stored = await storeFile(db, name, () => watcher.mediaType, source, watcher.watch);
    if (stored.byteLength !== declaredBytes)
      throw new AudioFileError(`broke off after ${stored.byteLength} of ${declaredBytes} bytes`);
    return { stored, incoming: watcher.finish(stored.byteLength) };
  });
}
