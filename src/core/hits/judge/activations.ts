/** What is heard far more than explained must not pull everything up alone: ratios beyond count as this. */
export const largestRatio = 30;

/**
 * How loud every source must be so that all rows together hear what they hear: activations a >= 0 with
 * heard[r] ~ floor[r] + sum_k a[k] * prints[k][r], the best by the Itakura-Saito divergence, which weighs every row by ratio.
 * The reference of the kernel that does it for whole songs (explainer.ts).
 * Shape   heard, floor, weights and each print by row; start and most by source.
 * Source  multiplicative steps of Févotte, Bertin, Durrieu, Neural Computation 21(3), 2009, with fixed bases.
 */
export function activations(
  heard: Float64Array,
  floor: Float64Array,
  prints: readonly Float64Array[],
  weights: Float64Array,
  start: Float64Array,
  most: Float64Array,
  steps: number,
): Float64Array {
  const n = heard.length;
  const a = Float64Array.from(start);
  const predicted = new Float64Array(n);
  const pull = new Float64Array(n);
  const hold = new Float64Array(n);
  for (let step = 0; step < steps; step++) {
    predicted.set(floor);
    for (let k = 0; k < prints.length; k++) {
      const print = prints[k]!;
      const now = a[k]!;
      for (let r = 0; r < n; r++) predicted[r]! += now * print[r]!;
    }
    for (let r = 0; r < n; r++) {
      const q = predicted[r]!;
      const w = weights[r]! / q;
      const ratio = (heard[r]! + floor[r]!) / q;
      hold[r] = w;
      pull[r] = w * (ratio < largestRatio ? ratio : largestRatio);
    }
    for (let k = 0; k < prints.length; k++) {
      const print = prints[k]!;
      let up = 0;
      let down = 1e-300;
      for (let r = 0; r < n; r++) {
        up += print[r]! * pull[r]!;
        down += print[r]! * hold[r]!;
      }
      a[k] = Math.min(most[k]!, a[k]! * Math.sqrt(up / down));
    }
  }
  return a;
}
