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
 * time of the others. For changes of a thousandth at most, where nothing aliases.
 * Shape   one channel; the result has 1 / (1 + ppm * 1e-6) times as many frames.
 * Errors  RangeError beyond 1000 ppm.
 * Source  windowed sinc of 32 taps (Laakso et al. 1996), linear between 512 places.
 */
export function respeed(x: Float32Array, ppm: number): Float32Array {
  if (!(Math.abs(ppm) <= mostClockPpm))
    throw new RangeError(`the clock's error is ${ppm} ppm; it must lie within ${mostClockPpm}`);
  const speed = 1 + ppm * 1e-6;
  const y = new Float32Array(Math.round(x.length / speed));
  const taps = tapsAt();
  const half = fractionalTaps / 2;
  for (let i = 0; i < y.length; i++) {
    const at = i * speed;
    const whole = Math.floor(at);
    const place = (at - whole) * phases;
    const p = Math.floor(place);
    const [a, b] = [taps[p]!, taps[p + 1]!];
    const share = place - p;
    let sum = 0;
    for (let t = 0; t < fractionalTaps; t++) {
      const k = whole - half + 1 + t;
      if (k >= 0 && k < x.length) sum += (a[t]! + share * (b[t]! - a[t]!)) * x[k]!;
    }
    y[i] = sum;
  }
  return y;
}
