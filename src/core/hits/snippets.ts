import type { Samples } from "../signal/samples";

/** Cuts [from, to) seconds around strokes out of a signal. */
export function cutSnippets(
  x: Samples,
  times: readonly number[],
  from: number,
  to: number,
  sampleRate: number,
): Float32Array[] {
  return times
    .map((t) => [Math.round((t + from) * sampleRate), Math.round((t + to) * sampleRate)] as const)
    .filter(([a, b]) => a >= 0 && b <= x.length)
    .map(([a, b]) => x.subarray(a, b));
}

/** At most `most` of a list, evenly spread over it. */
export const spreadOver = <T>(list: readonly T[], most: number): T[] =>
  Array.from(
    { length: Math.min(most, list.length) },
    (_, i) => list[Math.floor((i * Math.max(most, list.length)) / most)]!,
  );

/** Frames of the recording that lie in a stretch of it, as frames of the stretch. */
export const framesWithin = (frames: readonly number[], from: number, length: number): number[] =>
  frames.map((f) => f - from).filter((f) => f >= 0 && f < length);
