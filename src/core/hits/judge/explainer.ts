import { instantiateKernels, kernelsReserve } from "../../kernels/kernels";
import { largestRatio } from "./activations";

/** Finds how loud all sources are at one instant; arguments as those of `activations`. */
export type Explainer = (
  heard: Float64Array,
  start: Float64Array,
  most: Float64Array,
  steps: number,
) => Float64Array;

/**
 * `activations` for many instants with the same prints, by its kernel.
 * Shape   floor, weights and each print by row, an even number of rows. Errors  as instantiateKernels.
 */
export function explainer(
  floor: Float64Array,
  prints: readonly Float64Array[],
  weights: Float64Array,
): Explainer {
  const n = floor.length;
  const sources = prints.length;
  const { kernels, buffer } = instantiateKernels(kernelsReserve + 8 * ((6 + sources) * n + 2 * sources));
  const numbers = new Float64Array(buffer);
  const problem = kernelsReserve;
  const printsAt = problem + 8 * 6 * n;
  const state = printsAt + 8 * sources * n;
  numbers.set(floor, problem / 8 + n);
  numbers.set(weights, problem / 8 + 2 * n);
  prints.forEach((print, k) => numbers.set(print, printsAt / 8 + k * n));
  return (heard, start, most, steps) => {
    for (let r = 0; r < n; r++) numbers[problem / 8 + r] = heard[r]! + floor[r]!;
    numbers.set(start, state / 8);
    numbers.set(most, state / 8 + sources);
    kernels.explain(problem, n, printsAt, sources, state, steps, largestRatio);
    return numbers.slice(state / 8, state / 8 + sources);
  };
}
