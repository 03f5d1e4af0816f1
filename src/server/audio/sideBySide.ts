import type { Db } from "../db/pool";
import { findAudios, listPieces, type AudioRow } from "../db/queries/audio";
import { AppError } from "../errors";

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
 * channels, bytes per frame and frames per mic, then the frames of one mic after another as they are stored.
 * A mic that ends earlier gives fewer frames.
 */
export async function readSideBySide(
  db: Db,
  ids: readonly string[],
  from: number,
  count: number,
): Promise<Buffer> {
  const rows = await rowsOf(db, ids);
  const parts = rows.map(({ sampleFormat, channels, frameBytes, frames }) => ({
    sampleFormat,
    channels,
    frameBytes,
    frames: Math.max(0, Math.min(frames, from + count) - from),
  }));
  const ranges = rows.map(({ fileId, dataStart, frameBytes }, i) => ({
    fileId,
    from: dataStart + from * frameBytes,
    to: dataStart + (from + parts[i]!.frames) * frameBytes,
  }));
  const pieces = await listPieces(db, ranges);
  const head = Buffer.from(JSON.stringify(parts));
  const size = Buffer.alloc(4);
  size.writeUInt32LE(head.length);
  const body = Buffer.concat([size, head, ...pieces.map((p) => p.bytes)]);
  const wanted = 4 + head.length + ranges.reduce((sum, r) => sum + r.to - r.from, 0);
  if (body.length !== wanted) throw new Error(`frames ${from} to ${from + count} are not all there`);
  return body;
}
