/**
 * Convolution of a block: y[i] = sum of taps[t] x[from + i + t], four outputs at a time, because their sums do not wait
 * for each other and share the taps. Shape: x holds `from + frames + taps.length - 1` frames. Allocates nothing.
 */
export function convolve(
  taps: Float64Array,
  x: Float64Array,
  from: number,
  y: Float32Array,
  frames: number,
): void {
  const n = taps.length;
  let i = 0;
  for (; i + 4 <= frames; i += 4) {
    let s0 = 0;
    let s1 = 0;
    let s2 = 0;
    let s3 = 0;
    let at = from + i;
    for (let t = 0; t < n; t++, at++) {
      const tap = taps[t]!;
      s0 += tap * x[at]!;
      s1 += tap * x[at + 1]!;
      s2 += tap * x[at + 2]!;
      s3 += tap * x[at + 3]!;
    }
    y[i] = s0;
    y[i + 1] = s1;
    y[i + 2] = s2;
    y[i + 3] = s3;
  }
  for (; i < frames; i++) {
    let sum = 0;
    for (let t = 0; t < n; t++) sum += taps[t]! * x[from + i + t]!;
    y[i] = sum;
  }
}
