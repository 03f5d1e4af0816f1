import type { Db } from "../db/pool";
import type { AudioRow } from "../db/queries/audio";
import { listBytes } from "../db/queries/bytes";

/** An audio and where on the song's time line it begins. */
export interface PlacedAudio {
  readonly audio: AudioRow;
  readonly start: number;
}

/** Frames of one mic as they are stored. */
export interface StoredFrames {
  /** Frames of silence before them, where the file begins within what was asked for. */
  readonly skip: number;
  /** Fewer than asked for where the file ends. */
  readonly frames: number;
  readonly bytes: readonly Buffer[];
}

/**
 * Frames [from, from + count) of the song of several mics, `from` at least 0, with one question.
 * Errors  Error when a part of them is missing from the store.
 */
export async function readStoredFrames(
  db: Db,
  placed: readonly PlacedAudio[],
  from: number,
  count: number,
): Promise<StoredFrames[]> {
  const wanted = placed.map(({ audio, start }) => {
    const first = Math.min(audio.frames, Math.max(0, from - start));
    const frames = Math.max(0, Math.min(audio.frames, from + count - start) - first);
    return { first, frames, skip: Math.min(count, Math.max(0, start - from)) };
  });
  const ranges = placed.map(({ audio: { fileId, dataStart, frameBytes } }, i) => {
    const { first, frames } = wanted[i]!;
    return { fileId, from: dataStart + first * frameBytes, to: dataStart + (first + frames) * frameBytes };
  });
  const pieces = await listBytes(db, ranges);
  return wanted.map(({ skip, frames }, i) => {
    const { id, frameBytes } = placed[i]!.audio;
    const bytes = pieces[i]!;
    const length = bytes.reduce((sum, b) => sum + b.length, 0);
    if (length !== frames * frameBytes)
      throw new Error(`audio ${id}: frames ${from} to ${from + count} are not all there`);
    return { skip, frames, bytes };
  });
}
