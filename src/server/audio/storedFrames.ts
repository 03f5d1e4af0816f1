import type { Db } from "../db/pool";
import { listPieces, type AudioRow } from "../db/queries/audio";

/** Frames of one mic as they are stored. */
export interface StoredFrames {
  /** Fewer than asked for where the file ends. */
  readonly frames: number;
  readonly bytes: readonly Buffer[];
}

/**
 * Frames [from, from + count) of several mics, `from` at least 0, with one question.
 * Errors  Error when a part of them is missing from the store.
 */
export async function readStoredFrames(
  db: Db,
  audio: readonly AudioRow[],
  from: number,
  count: number,
): Promise<StoredFrames[]> {
  const stored = audio.map((a) => ({
    frames: Math.max(0, Math.min(a.frames, from + count) - from),
    bytes: [] as Buffer[],
  }));
  const ranges = audio.map(({ fileId, dataStart, frameBytes }, i) => ({
    fileId,
    from: dataStart + from * frameBytes,
    to: dataStart + (from + stored[i]!.frames) * frameBytes,
  }));
  for (const { range, bytes } of await listPieces(db, ranges)) stored[range - 1]!.bytes.push(bytes);
  stored.forEach(({ frames, bytes }, i) => {
    const length = bytes.reduce((sum, b) => sum + b.length, 0);
    if (length !== frames * audio[i]!.frameBytes)
      throw new Error(`audio ${audio[i]!.id}: frames ${from} to ${from + count} are not all there`);
  });
  return stored;
}
