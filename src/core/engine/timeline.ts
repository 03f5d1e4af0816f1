import type { Edit, Hit } from "../song/song";

/** Copies frames [from, from + count) of one channel of a recording into `out` at `to`; outside is silence. */
export type ReadSource = (from: number, count: number, out: Float32Array, to: number) => void;

/** A recording on the song's time line: its first frame lies at `start`. */
export const startingAt = (read: ReadSource, start: number): ReadSource =>
  start === 0 ? read : (from, count, out, to) => read(from - start, count, out, to);

/** Channels of a file as they lie on the song's time line, for what looks at the whole: silence before the start. */
export const placed = (channels: readonly Float32Array[], start: number): Float32Array[] =>
  channels.map((x) => {
    if (start === 0) return x;
    const y = new Float32Array(start + x.length);
    y.set(x, start);
    return y;
  });

/**
 * What keeps the power of a crossfade constant whose sides are `likeness` alike: 1 for the same on both sides, up to 3 dB
 * in the middle for sides that have nothing in common.
 * Source  power-complementary cross-fading by correlation: Fink, Holters, Zölzer, DAFx 2016.
 */
const fadeLevel = (share: number, likeness: number): number =>
  1 / Math.sqrt((1 - share) ** 2 + share ** 2 + 2 * likeness * share * (1 - share));

/**
 * Reads frames [from, from + count) of the tightened song from the recording. Between the crossfades every frame is a
 * bit-exact copy; every mic reads by the same edits, so phase between mics survives to the frame.
 * Shape   edits ascending by `at`; a fade is not longer than its distance to the edit before.
 */
export function readEdited(
  edits: readonly Edit[],
  read: ReadSource,
  from: number,
  count: number,
  out: Float32Array,
  to = 0,
): void {
  let at = from;
  const end = from + count;
  let next = edits.findIndex((e) => e.at > from);
  if (next < 0) next = edits.length;
  while (at < end) {
    const edit = edits[next];
    const before = next > 0 ? edits[next - 1]!.shift : 0;
    const fadeFrom = edit ? edit.at - edit.fade : Infinity;
    if (at < fadeFrom) {
      const n = Math.min(end, fadeFrom) - at;
      read(at - before, n, out, to + at - from);
      at += n;
    } else if (edit) {
      const n = Math.min(end, edit.at) - at;
      const target = to + at - from;
      read(at - before, n, out, target);
      const fresh = new Float32Array(n);
      read(at - edit.shift, n, fresh, 0);
      for (let i = 0; i < n; i++) {
        const share = (at + i - fadeFrom + 0.5) / edit.fade;
        const level = fadeLevel(share, edit.likeness);
        out[target + i] = level * ((1 - share) * out[target + i]! + share * fresh[i]!);
      }
      at += n;
      if (at >= edit.at) next++;
    }
  }
}

/** Where a recorded instant is heard in the tightened song, s. */
export function editedTime(edits: readonly Edit[], time: number, sampleRate: number): number {
  const frame = time * sampleRate;
  let shift = 0;
  for (const e of edits) {
    if (e.at - e.shift > frame) break;
    shift = e.shift;
  }
  return (frame + shift) / sampleRate;
}

/** Where what is heard at an instant of the tightened song was recorded, s; within a crossfade: what fades out. */
export function recordedTime(edits: readonly Edit[], played: number, sampleRate: number): number {
  const frame = played * sampleRate;
  let shift = 0;
  for (const e of edits) {
    if (e.at > frame) break;
    shift = e.shift;
  }
  return (frame - shift) / sampleRate;
}

/** Onsets of one drum where they are heard in the tightened song, ascending frames, moved by `offset` frames. */
export function hitFrames(
  hits: readonly Hit[],
  piece: string,
  playedAt: (time: number) => number,
  sampleRate: number,
  offset: number,
): Float64Array {
  return Float64Array.from(
    hits.filter((h) => h.piece === piece).map((h) => playedAt(h.time) * sampleRate + offset),
  ).sort();
}
