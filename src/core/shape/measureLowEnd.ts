import type { LowEnd } from "../facts/lowEnd";
import { bandCompressor } from "../processors/bandCompressor";
import { designButterworth, filtered } from "../signal/biquad";
import { gainToDb, peakOf, powerToDb, quantile } from "../signal/level";
import { processedOnce } from "./processedOnce";

/** How the low end is held (common practice, no source). */
export const holding = { ratio1: 4, attack1: 0.005, release1: 0.12 } as const;
const fewest = 8;
/** The body of a stroke, s from its onset. */
const [from, to] = [0.01, 0.16];
/** The low end ends this far above the fundamental, as a ratio. */
const above = 1.8;

const spreadOf = (levels: readonly number[]): number => quantile(levels, 0.9) - quantile(levels, 0.1);

/** Level of the body of a stroke on one side of a corner, dBFS. */
function bodyDb(x: Float32Array, side: "low" | "high", corner: number, sampleRate: number): number {
  const y = filtered(x, designButterworth(side, corner, 4, sampleRate));
  const body = y.subarray(Math.round(from * sampleRate), Math.round(to * sampleRate));
  return powerToDb(body.reduce((s, v) => s + v * v, 0) / body.length);
}
/**
 * How unlike the low end of strokes is, and what is left of that when the lowest band of a band compressor holds it from the level on
 * that the softest tenth of them stays below; null with fewer than eight strokes.
 * Shape   strokes from their onset on, 0.2 s and longer; fundamental in Hz.
 */
export function measureLowEnd(
  strokes: readonly Float32Array[],
  fundamental: number,
  sampleRate: number,
): LowEnd | null {
  if (strokes.length < fewest) return null;
  const below = Math.round(above * fundamental);
  const peaks = strokes.map((x) =>
    gainToDb(peakOf(filtered(x, designButterworth("low", below, 4, sampleRate)))),
  );
  const threshold = Math.max(-60, Math.min(0, Math.round(quantile(peaks, 0.1))));
  const values = { bands: "2", cross1: below, threshold1: threshold, ...holding };
  const low = (x: Float32Array) => bodyDb(x, "low", below, sampleRate);
  return {
    below,
    spread: spreadOf(strokes.map(low)),
    spreadAbove: spreadOf(strokes.map((x) => bodyDb(x, "high", below, sampleRate))),
    held: spreadOf(strokes.map((x) => low(processedOnce(bandCompressor, values, x, sampleRate)))),
    threshold,
    strokes: strokes.length,
  };
}
