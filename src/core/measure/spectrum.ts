import { hann, powerOfTwo, RealFft } from "../signal/fft";
import { powerToDb } from "../signal/level";

/** Levels over logarithmic frequency steps. */
export interface LevelCurve {
  /** Hz. */
  frequencies: Float64Array;
  /** dBFS of the band around each frequency. */
  levels: Float64Array;
}

/** Logarithmic frequencies from 30 Hz to 18 kHz, twelve an octave. */
export const curveFrequencies = Float64Array.from({ length: 111 }, (_, i) => 30 * 2 ** (i / 12));

/** Average power of snippets by bin of their transform, and its length. Each falls from its first frame on. */
export function averagePower(
  snippets: readonly Float32Array[],
  sampleRate: number,
): { readonly power: Float64Array; readonly size: number } {
  const size = powerOfTwo(0.16 * sampleRate);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const power = new Float64Array(size / 2 + 1);
  for (const x of snippets) {
    const n = Math.min(x.length, size);
    fft.forward(x, 0, n, spectrum, hann(2 * n).subarray(n)); // falls from the stroke on
    for (let k = 0; k < power.length; k++)
      power[k]! += (spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2) / snippets.length / n;
  }
  return { power, size };
}

/** Average power spectrum of snippets, read off at twelve steps an octave. */
export const averageSpectrum = (snippets: readonly Float32Array[], sampleRate: number): LevelCurve =>
  curveOf(averagePower(snippets, sampleRate), sampleRate);

/** A power spectrum read off at twelve steps an octave. */
export function curveOf({ power, size }: ReturnType<typeof averagePower>, sampleRate: number): LevelCurve {
  const levels = curveFrequencies.map((f) => {
    const from = Math.max(1, Math.floor((f * 2 ** (-1 / 24) * size) / sampleRate));
    const to = Math.max(from + 1, Math.min(power.length, Math.ceil((f * 2 ** (1 / 24) * size) / sampleRate)));
    let sum = 0;
    for (let k = from; k < to; k++) sum += power[k]!;
    return powerToDb(sum / size);
  });
  return { frequencies: curveFrequencies, levels };
}

/** Strongest frequency between two limits, Hz: the drum's fundamental in its usual range. */
export function strongest(
  { frequencies, levels }: LevelCurve,
  from: number,
  to: number,
): { frequency: number; level: number } {
  let best = { frequency: from, level: -Infinity };
  frequencies.forEach((f, i) => {
    if (f >= from && f <= to && levels[i]! > best.level) best = { frequency: f, level: levels[i]! };
  });
  return best;
}

/** The narrowest ring: frequency that stands most over its surroundings of half an octave, in the later spectrum. */
export function findRing(
  { frequencies, levels }: LevelCurve,
  from: number,
  to: number,
): { frequency: number; standsOutDb: number } {
  let best = { frequency: from, standsOutDb: -Infinity };
  for (let i = 6; i < levels.length - 6; i++) {
    if (frequencies[i]! < from || frequencies[i]! > to) continue;
    const around = [-6, -5, -4, -3, 3, 4, 5, 6].map((d) => levels[i + d]!);
    const standsOutDb = levels[i]! - around.reduce((a, b) => a + b, 0) / around.length;
    if (standsOutDb > best.standsOutDb) best = { frequency: frequencies[i]!, standsOutDb };
  }
  return best;
}

/**
 * Frequency in Hz of the strongest partial within a semitone and a half of `around`, by a parabola through the
 * power spectrum of long windows (resolution 3 Hz at 48 kHz before the parabola).
 */
export function refinePeak(snippets: readonly Float32Array[], around: number, sampleRate: number): number {
  const size = powerOfTwo(0.3 * sampleRate);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const power = new Float64Array(size / 2 + 1);
  for (const x of snippets) {
    const n = Math.min(x.length, size);
    fft.forward(x, 0, n, spectrum, hann(n));
    for (let k = 0; k < power.length; k++) power[k]! += spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
  }
  const bin = (f: number) => Math.round((f * size) / sampleRate);
  let best = bin(around);
  for (let k = bin(around / 1.09); k <= bin(around * 1.09); k++) if (power[k]! > power[best]!) best = k;
  const [a, b, c] = [best - 1, best, best + 1].map((k) => Math.log((power[k] ?? 0) + 1e-300)) as [
    number,
    number,
    number,
  ];
  const bend = a - 2 * b + c;
  return ((best + (bend < 0 ? (0.5 * (a - c)) / bend : 0)) * sampleRate) / size;
}
