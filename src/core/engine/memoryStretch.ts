import { judgedFrom, judgedSeconds } from "../hits/judgedStretch";
import type { Song } from "../song/song";
import { placed } from "./timeline";

/**
 * The stretch in which some drums have most strokes, of audio in memory: the song's frame at which it begins, and what was recorded from there on.
 * Shape  audio [mic][channel] as recorded, from each mic's own start on; the stretch likewise, equally long, silent behind a file's end.
 */
export function memoryStretch(
  song: Song,
  audio: readonly (readonly Float32Array[])[],
  pieces: readonly string[],
): { readonly from: number; readonly stretch: Float32Array[][] } {
  const from = Math.max(0, Math.round(judgedFrom(song, ...pieces) * song.sampleRate));
  const frames = Math.min(song.frames - from, Math.round(judgedSeconds * song.sampleRate));
  const stretch = song.mics.map((m, i) =>
    placed(audio[i]!, m.start).map((x) => {
      const part = new Float32Array(frames);
      part.set(x.subarray(from, from + frames));
      return part;
    }),
  );
  return { from, stretch };
}
