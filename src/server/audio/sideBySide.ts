import type { Db } from "../db/pool";
import { findAudios, type AudioRow } from "../db/queries/audio";
import { AppError } from "../errors";
import { readStoredFrames } from "./storedFrames";

/** Audio never changes, so what is known of it may be kept; the least used is let go. */
const known = new Map<string, AudioRow>();
const knownMost = 2000;

async function rowsOf(db: Db, ids: readonly string[]): Promise<AudioRow[]> {
  const unknown = ids.filter((id) => !known.has(id));
  if (unknown.length > 0) for (const row of await findAudios(db, unknown)) known.set(row.id, row);
  while (known.size > knownMost) known.delete(known.keys().next().value!);
  return ids.map((id) => {
    const row = known.get(id);
    if (!row) throw new AppError("not_found", "There is no such audio.");
    return row;
  });
}

/**
 * The same frames of several mics. Layout: length of a JSON list as 32-bit little-endian number, the list with format,
 * channels, bytes per frame, frames of silence before and frames per mic, then the frames of one mic after another as they are stored.
 * A mic that begins later or ends earlier gives fewer frames. `starts`: song frame at which each file begins.
 */
export async function readSideBySide(
  db: Db,
  ids: readonly string[],
  starts: readonly number[],
  from: number,
  count: number,
): Promise<Buffer> {
  const rows = await rowsOf(db, ids);
  const placed = rows.map((audio, i) => ({ audio, start: starts[i] ?? 0 }));
  const stored = await readStoredFrames(db, placed, from, count);
  const parts = rows.map(({ sampleFormat, channels, frameBytes }, i) => ({
    sampleFormat,
    channels,
    frameBytes,
    skip: stored[i]!.skip,
    frames: stored[i]!.frames,
  }));
  const head = Buffer.from(JSON.stringify(parts));
  const size = Buffer.alloc(4);
  size.writeUInt32LE(head.length);
  return Buffer.concat([size, head, ...stored.flatMap((s) => s.bytes)]);
}
