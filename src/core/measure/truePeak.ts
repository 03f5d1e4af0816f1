import { peakOf } from "../signal/level";
import { halfTaps, peakBetween } from "../signal/peakBetween";

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
    peak = Math.max(peak, peakBetween(x, i - (halfTaps - 1)));
  }
  return peak;
}
