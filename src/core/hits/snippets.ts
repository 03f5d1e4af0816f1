/** Cuts [from, to) seconds around strokes out of a signal. */
export function cutSnippets(
  x: Float32Array,
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
