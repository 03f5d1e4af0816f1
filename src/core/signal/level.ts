import { piecesOf, type Samples } from "./samples";

/** Quietest level that is written down; below it a signal counts as digital silence. dBFS. */
export const silenceDb = -150;

/** Linear gain of a level in dB. */
export const dbToGain = (db: number): number => Math.pow(10, db / 20);

/** Level in dB of a linear amplitude; never below `silenceDb`. */
export const gainToDb = (gain: number): number => (gain > 3.1623e-8 ? 20 * Math.log10(gain) : silenceDb);

/** Decibels as a power. */
export const dbToPower = (db: number): number => 10 ** (db / 10);

/** Level in dB of a power (mean square). */
export const powerToDb = (power: number): number => (power > 1e-15 ? 10 * Math.log10(power) : silenceDb);

/** Largest magnitude in x[from, to). */
export function peakOf(x: Samples, from = 0, to = x.length): number {
  let peak = 0;
  for (const { piece } of piecesOf(x, from, to))
    for (let i = 0; i < piece.length; i++) {
      const a = Math.abs(piece[i]!);
      if (a > peak) peak = a;
    }
  return peak;
}

/** Sum of the squares of x[from, to); frames outside the signal count as silence. */
export function energyOf(x: Samples, from = 0, to = x.length): number {
  let sum = 0;
  for (const { piece } of piecesOf(x, from, to))
    for (let i = 0; i < piece.length; i++) sum += piece[i]! * piece[i]!;
  return sum;
}

/** Mean square of x[from, to); frames outside the signal count as silence. */
export const powerOf = (x: Samples, from = 0, to = x.length): number =>
  to > from ? energyOf(x, from, to) / (to - from) : 0;

/** Value below which the share `q` (0..1) of the values lies, linearly interpolated; NaN for none. */
export function quantile(values: ArrayLike<number>, q: number): number {
  if (values.length === 0) return NaN;
  const sorted = Float64Array.from(values).sort();
  const at = Math.min(1, Math.max(0, q)) * (sorted.length - 1);
  const low = Math.floor(at);
  const high = Math.min(low + 1, sorted.length - 1);
  return sorted[low]! + (sorted[high]! - sorted[low]!) * (at - low);
}

/** Middle value; NaN for none. */
export const median = (values: readonly number[] | Float64Array): number => quantile(values, 0.5);
