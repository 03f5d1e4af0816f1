import { peakOf } from "../signal/level";
import { halfTaps, phases, truePeakTaps } from "../signal/truePeakTaps";

/**
 * True peak, linear, by four times oversampling.
 * Source  ITU-R BS.1770-5, annex 2 (own interpolator, longer than the example there); tolerance EBU Tech 3341.
 */
export function truePeak(x: Float32Array): number {
  let peak = peakOf(x);
  // Only the surroundings of large frames can hold a larger peak: overshoot between frames is below 12 dB here.
  const worth = peak * 0.25;
  for (let i = halfTaps; i < x.length - halfTaps; i++) {
    if (Math.abs(x[i]!) < worth && Math.abs(x[i + 1]!) < worth) continue;
    for (let p = 1; p < phases; p++) {
      const taps = truePeakTaps[p]!;
      let sum = 0;
      for (let t = 0; t < 2 * halfTaps; t++) sum += taps[t]! * x[i - (halfTaps - 1) + t]!;
      if (Math.abs(sum) > peak) peak = Math.abs(sum);
    }
  }
  return peak;
}
