import { peakOf } from "../signal/level";
import { halfTaps, peakBetween } from "../signal/peakBetween";
import { pieceFrames, type Samples } from "../signal/samples";

/**
 * True peak, linear, by four times oversampling.
 * Source  ITU-R BS.1770-5, annex 2 (own interpolator, longer than the example there); tolerance EBU Tech 3341.
 */
export function truePeak(x: Samples): number {
  let peak = peakOf(x);
  // Only the surroundings of large frames can hold a larger peak: overshoot between frames is below 12 dB here.
  const worth = peak * 0.25;
  for (let at = halfTaps; at < x.length - halfTaps; at += pieceFrames) {
    const to = Math.min(x.length - halfTaps, at + pieceFrames);
    const y = x.subarray(at - halfTaps, to + halfTaps);
    for (let i = halfTaps; i < halfTaps + to - at; i++) {
      if (Math.abs(y[i]!) < worth && Math.abs(y[i + 1]!) < worth) continue;
      peak = Math.max(peak, peakBetween(y, i - (halfTaps - 1)));
    }
  }
  return peak;
}
