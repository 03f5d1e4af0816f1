import { stretchOf, type Samples } from "./samples";
import { designFractional, fractionalTaps } from "./fractionalDelay";

/** Largest error of a clock that is believed, ppm. */
export const mostClockPpm = 1000;
/** Places between two frames for which taps are made; between them taps are mixed. */
const phases = 512;

let table: Float64Array[] | null = null;
const tapsAt = (): Float64Array[] =>
  (table ??= Array.from({ length: phases + 1 }, (_, p) => {
    const taps = new Float64Array(fractionalTaps);
    designFractional(p / phases, taps);
    return taps;
  }));

/**
 * Reads a signal a little faster or slower: what a recorder has written whose clock ran fast by `ppm` millionths, on the
 * time of the others. For changes of a thousandth at most, where nothing aliases. Worked out as it is read.
 * Shape   one channel; the result has 1 / (1 + ppm * 1e-6) times as many frames.
 * Errors  RangeError beyond 1000 ppm.
 * Source  windowed sinc of 32 taps (Laakso et al. 1996), linear between 512 places.
 */
export function respeeded(x: Samples, ppm: number): Samples {
  if (!(Math.abs(ppm) <= mostClockPpm))
    throw new RangeError(`the clock's error is ${ppm} ppm; it must lie within ${mostClockPpm}`);
  const speed = 1 + ppm * 1e-6;
  const length = Math.round(x.length / speed);
  const firstOf = (frame: number): number => Math.floor(frame * speed) - fractionalTaps / 2 + 1;
  return {
    length,
    subarray(from, to = length) {
      const y = new Float32Array(Math.max(0, Math.min(length, to) - from));
      const first = firstOf(from);
      const near = stretchOf(x, first, firstOf(from + y.length) + fractionalTaps - first);
      for (let i = 0; i < y.length; i++) y[i] = valueAt(near, (from + i) * speed, firstOf(from + i) - first);
      return y;
    },
  };
}

/** The signal at an instant between frames; `first`: place of the first tap in what is near. */
function valueAt(near: Float32Array, at: number, first: number): number {
  const place = (at - Math.floor(at)) * phases;
  const p = Math.floor(place);
  const taps = tapsAt();
  const [a, b] = [taps[p]!, taps[p + 1]!];
  const share = place - p;
  let sum = 0;
  for (let t = 0; t < fractionalTaps; t++) sum += (a[t]! + share * (b[t]! - a[t]!)) * near[first + t]!;
  return sum;
}

/** All of `respeeded`. Errors  as there. */
export const respeed = (x: Float32Array, ppm: number): Float32Array => respeeded(x, ppm).subarray(0);
