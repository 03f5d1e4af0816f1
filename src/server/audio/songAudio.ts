import { decodeFrames } from "../../core/file/wav";
import type { SongReader } from "../../core/engine/renderSong";
import type { Song } from "../../core/song/song";
import type { Db } from "../db/pool";
import { listSongAudio, type AudioRow } from "../db/queries/audio";
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

/** A reader for `renderSong` that holds only a window of the song in memory. */
export function windowReader(
  db: Db,
  audio: readonly AudioRow[],
  largestShift: number,
): { reader: SongReader; prefetch: (from: number, count: number) => Promise<void> } {
  const windows: { from: number; channels: Float32Array[] }[] = audio.map(() => ({ from: 0, channels: [] }));
  return {
    prefetch: async (from, count) => {
      const start = Math.max(0, from - largestShift);
      for (const [i, row] of audio.entries())
        windows[i] = { from: start, channels: await readFrames(db, row, start, count + 2 * largestShift) };
    },
    reader: (mic, channel) => (from, count, out, to) => {
      const { from: base, channels } = windows[mic]!;
      const x = channels[channel]!;
      out.fill(0, to, to + count);
      const start = Math.max(base, from);
      const end = Math.min(base + x.length, from + count);
      if (end > start) out.set(x.subarray(start - base, end - base), to + start - from);
    },
  };
}
