import { decodeFrames } from "../../core/file/wav";
import type { SongReader } from "../../core/engine/renderSong";
import type { Song } from "../../core/song/song";
import type { Db } from "../db/pool";
import { listPieces, listSongAudio, type AudioRow } from "../db/queries/audio";
import { AppError } from "../errors";
import { readRange } from "./store";

/** Audio rows of a song's mics, in the order of the mics. */
export async function audioOfMics(db: Db, songId: string, song: Song): Promise<AudioRow[]> {
  const rows = await listSongAudio(db, songId);
  return song.mics.map((m) => {
    const row = rows.find((r) => r.id === m.audio);
    if (!row) throw new AppError("not_found", `The audio of ${m.file} is missing from the store.`);
    return row;
  });
}

/** Frames [from, from + count) of a mic, decoded; shorter at the end of the file. */
export async function readFrames(
  db: Db,
  audio: AudioRow,
  from: number,
  count: number,
): Promise<Float32Array[]> {
  const start = Math.min(audio.frames, Math.max(0, from));
  const end = Math.min(audio.frames, Math.max(start, from + count));
  const channels = Array.from({ length: audio.channels }, () => new Float32Array(end - start));
  if (end === start) return channels;
  const bytes = await readRange(
    db,
    audio.fileId,
    audio.dataStart + start * audio.frameBytes,
    audio.dataStart + end * audio.frameBytes,
  );
  decodeFrames(bytes, audio, end - start, channels);
  return channels;
}

/** Decoded frames of all mics from `from` on. */
interface Window {
  readonly from: number;
  readonly mics: Float32Array[][];
}

/** Frames [from, from + count) of all mics, with one question. */
async function readWindow(db: Db, audio: readonly AudioRow[], from: number, count: number): Promise<Window> {
  const start = Math.max(0, from);
  const lengths = audio.map((a) => Math.max(0, Math.min(a.frames, from + count) - start));
  const ranges = audio.map((a, i) => ({
    fileId: a.fileId,
    from: a.dataStart + start * a.frameBytes,
    to: a.dataStart + (start + lengths[i]!) * a.frameBytes,
  }));
  const pieces = audio.map(() => [] as Buffer[]);
  for (const { range, bytes } of await listPieces(db, ranges)) pieces[range - 1]!.push(bytes);
  const mics = audio.map((a, i) => {
    const bytes = Buffer.concat(pieces[i]!);
    if (bytes.length !== lengths[i]! * a.frameBytes)
      throw new Error(`audio ${a.id}: frames ${start} to ${from + count} are not all there`);
    const channels = Array.from({ length: a.channels }, () => new Float32Array(lengths[i]!));
    decodeFrames(bytes, a, lengths[i]!, channels);
    return channels;
  });
  return { from: start, mics };
}

/** A reader for `renderSong` that holds only a window of the song in memory and reads the next one ahead. */
export function windowReader(
  db: Db,
  audio: readonly AudioRow[],
  largestShift: number,
): { reader: SongReader; prefetch: (from: number, count: number) => Promise<void> } {
  let window: Window = { from: 0, mics: audio.map((a) => Array.from({ length: a.channels }, () => new Float32Array(0))) }; // prettier-ignore
  const read = (from: number, count: number) =>
    readWindow(db, audio, from - largestShift, count + 2 * largestShift);
  let ahead: { from: number; coming: Promise<Window> } | null = null;
  return {
    prefetch: async (from, count) => {
      window = await (ahead?.from === from ? ahead.coming : read(from, count));
      ahead = { from: from + count, coming: read(from + count, count) };
      ahead.coming.catch(() => {}); // told when its turn comes
    },
    reader: (mic, channel) => (from, count, out, to) => {
      const { from: base, mics } = window;
      const x = mics[mic]![channel]!;
      out.fill(0, to, to + count);
      const start = Math.max(base, from);
      const end = Math.min(base + x.length, from + count);
      if (end > start) out.set(x.subarray(start - base, end - base), to + start - from);
    },
  };
}
