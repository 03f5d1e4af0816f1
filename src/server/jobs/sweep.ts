import { inTransaction } from "../db/pool";
import { deleteLooseAudio, deleteLooseChunks, deleteLooseFiles, holdSweep } from "../db/queries/sweep";
import { deleteDiscarded } from "../db/queries/song";
import { log } from "../log";

/** Chunks that go in one transaction: little enough to hold up nobody. */
const chunksAtOnce = 200;

/** Days for which a deleted song can be brought back. */
export const keptDays = 30;

/** What a sweep took out of the store. */
export interface Swept {
  readonly audio: number;
  readonly files: number;
  readonly chunks: number;
  readonly bytes: number;
}

/** Frees what no song, no step of undo and no export needs any more; safe beside imports and other sweeps. */
export async function sweepStore(): Promise<Swept> {
  const { audio, files } = await inTransaction(async (db) => {
    if (!(await holdSweep(db))) return { audio: 0, files: 0 };
    await deleteDiscarded(db, keptDays);
    return { audio: await deleteLooseAudio(db), files: await deleteLooseFiles(db) };
  });
  let [chunks, bytes] = [0, 0];
  for (;;) {
    const gone = await inTransaction(async (db) =>
      (await holdSweep(db)) ? deleteLooseChunks(db, chunksAtOnce) : { count: 0, bytes: 0 },
    );
    chunks += gone.count;
    bytes += gone.bytes;
    if (gone.count < chunksAtOnce) break;
  }
  if (chunks > 0) log.info({ audio, files, chunks, bytes }, "store swept");
  return { audio, files, chunks, bytes };
}

/** Sweeps without anybody waiting for it; what fails is tried again by the next. */
export const sweepSoon = (): void =>
  void sweepStore().catch((error: Error) => log.warn({ error: error.message }, "sweep"));
