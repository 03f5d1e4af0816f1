import { decodeFrames } from "../../core/file/wav";
import type { SongReader } from "../../core/engine/renderSong";
import type { Song } from "../../core/song/song";
import type { Db } from "../db/pool";
import { listSongAudio, type AudioRow } from "../db/queries/audio";
import { AppError } from "../errors";
import { readStoredFrames } from "./storedFrames";

/** Audio rows of a song's mics, in the order of the mics. */
export async function audioOfMics(db: Db, songId: string, song: Song): Promise<AudioRow[]> {
  const rows = await listSongAudio(db, songId);
  return song.mics.map((m) => {
    const row = rows.find((r) => r.id === m.audio);
    if (!row) throw new AppError("not_found", `The audio of ${m.file} is missing from the store.`);
    return row;
  });
}

/** Decoded frames of all mics from `from` on; fewer where a file ends. */
interface Window {
  readonly from: number;
  readonly mics: Float32Array[][];
}

async function readWindow(db: Db, audio: readonly AudioRow[], from: number, count: number): Promise<Window> {
  const start = Math.max(0, from);
  const stored = await readStoredFrames(db, audio, start, from + count - start);
  const mics = stored.map(({ frames, bytes }, i) => {
    const { channels: count } = audio[i]!;
    const channels = Array.from({ length: count }, () => new Float32Array(frames));
    decodeFrames(bytes.length === 1 ? bytes[0]! : Buffer.concat(bytes), audio[i]!, frames, channels);
    return channels;
  });
  return { from: start, mics };
}

/** A whole mic, decoded. */
export async function readWhole(db: Db, audio: AudioRow): Promise<Float32Array[]> {
  return (await readWindow(db, [audio], 0, audio.frames)).mics[0]!;
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
