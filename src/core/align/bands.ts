import { designAllPass, responseAt } from "../signal/biquad";
import { powerOfTwo, RealFft } from "../signal/fft";
import { powerToDb } from "../signal/level";
import type { Samples } from "../signal/samples";

/** Edges of the bands in which a sum is judged, Hz. */
export const sumBandEdges = [30, 60, 120, 250, 500, 1000, 2000, 4000, 8000, 16000] as const;
export const sumBands = sumBandEdges.length - 1;

/** Energies and cross-spectrum of two mics over the strokes of a drum: all that is needed to tell their sum. */
export interface PairSpectra {
  readonly size: number;
  readonly sampleRate: number;
  readonly strokes: number;
  /** Per bin: energy of either mic, and main conjugated times second. */
  readonly main: Float64Array;
  readonly second: Float64Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** What is done to the second mic. */
export interface PairSetting {
  readonly polarity: 1 | -1;
  /** Frames, later positive. */
  readonly delay: number;
  readonly rotation: { readonly frequency: number; readonly q: number } | null;
}
export const asRecorded: PairSetting = { polarity: 1, delay: 0, rotation: null };

export interface BandSum {
  /** Hz. */
  readonly from: number;
  readonly to: number;
  /** Energy of the sum over that of both mics apart, dB: +3 when equal and in phase, 0 when unrelated. */
  readonly gainDb: number;
  /** How alike the mics are from stroke to stroke, 0..1. */
  readonly coherence: number;
  /** Energy of both apart, dB against the strongest band. */
  readonly weightDb: number;
}

const judged = 0.12;
const lead = 0.004;

/**
 * Measures both mics at the strokes of their drum, 120 ms each.
 * Shape   times: onsets in the main mic, s; both signals from the song's first frame on.
 */
export function pairSpectra(
  main: Samples,
  second: Samples,
  times: readonly number[],
  sampleRate: number,
): PairSpectra {
  const n = Math.round(judged * sampleRate);
  const size = powerOfTwo(n);
  const fft = RealFft.of(size);
  const [a, b] = [fft.spectrum(), fft.spectrum()];
  const bins = size / 2 + 1;
  const [ea, eb, re, im] = [0, 1, 2, 3].map(() => new Float64Array(bins)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const fall = Float64Array.from(
    { length: n },
    (_, i) => 0.5 + 0.5 * Math.cos((Math.PI * Math.max(0, i - n / 2)) / (n / 2)),
  );
  let strokes = 0;
  for (const t of times) {
    const at = Math.round((t - lead) * sampleRate);
    if (at < 0 || at + n > main.length) continue;
    fft.forward(main, at, n, a, fall);
    fft.forward(second, at, n, b, fall);
    for (let k = 0; k < bins; k++) {
      ea[k]! += a.re[k]! ** 2 + a.im[k]! ** 2;
      eb[k]! += b.re[k]! ** 2 + b.im[k]! ** 2;
      re[k]! += a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!;
      im[k]! += a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!;
    }
    strokes++;
  }
  return { size, sampleRate, strokes, main: ea, second: eb, re, im };
}

/** Twice the real part of the cross-spectrum under a setting, bin by bin. */
function crossing(p: PairSpectra, { polarity, delay, rotation }: PairSetting): (k: number) => number {
  const section = rotation && designAllPass(rotation.frequency, rotation.q, p.sampleRate);
  return (k) => {
    const angle = (-2 * Math.PI * k * delay) / p.size;
    let c = Math.cos(angle);
    let s = Math.sin(angle);
    if (section) {
      const h = responseAt(section, (k * p.sampleRate) / p.size, p.sampleRate);
      [c, s] = [c * h.re - s * h.im, c * h.im + s * h.re];
    }
    return 2 * polarity * (p.re[k]! * c - p.im[k]! * s);
  };
}

/** Energy of both apart and of their sum between two frequencies, and how alike they are there. */
function energiesIn(p: PairSpectra, cross: (k: number) => number, from: number, to: number) {
  let apart = 0;
  let sum = 0;
  let common = 0;
  const first = Math.ceil((from * p.size) / p.sampleRate);
  const end = Math.min(p.main.length, Math.ceil((to * p.size) / p.sampleRate));
  for (let k = first; k < end; k++) {
    const both = p.main[k]! + p.second[k]!;
    const product = p.main[k]! * p.second[k]!;
    apart += both;
    sum += both + cross(k);
    if (product > 0) common += (both * (p.re[k]! ** 2 + p.im[k]! ** 2)) / product;
  }
  return { apart, gainDb: powerToDb(sum / (apart + 1e-30)), coherence: apart > 0 ? common / apart : 0 };
}

/** Energy of the sum of both mics by band under a setting; cheap enough for every move of a pointer. */
export function sumByBand(p: PairSpectra, setting: PairSetting): BandSum[] {
  const cross = crossing(p, setting);
  const rows = Array.from({ length: sumBands }, (_, band) => {
    const [from, to] = [sumBandEdges[band]!, sumBandEdges[band + 1]!];
    return { from, to, ...energiesIn(p, cross, from, to) };
  });
  const most = Math.max(...rows.map((r) => r.apart), 1e-30);
  return rows.map(({ apart, ...row }) => ({ ...row, weightDb: powerToDb(apart / most) }));
}

/** Energy of the sum between two frequencies, dB over both apart. */
export const sumGain = (p: PairSpectra, setting: PairSetting, from: number, to: number): number =>
  energiesIn(p, crossing(p, setting), from, to).gainDb;

/** Where a rotation is looked for, Hz, and how steep it may be. */
const rotationFrequencies = Array.from({ length: 25 }, (_, i) => 50 * 2 ** (i / 4));
const rotationSteepness = [0.4, 0.7, 1.4];

/**
 * The rotation that gains most between 40 Hz and 8 kHz on top of a setting, every octave counting alike; null when it gains less
 * than `least` dB in the mean of the octaves.
 */
export function bestRotation(
  p: PairSpectra,
  setting: Omit<PairSetting, "rotation">,
  least = 0.7,
): { frequency: number; q: number; gainDb: number } | null {
  // Bands in which there is next to nothing of the drum do not count.
  const mean = (rotation: PairSetting["rotation"]) => {
    const rows = sumByBand(p, { ...setting, rotation }).filter((r) => r.weightDb > -25);
    return rows.reduce((sum, r) => sum + Math.max(-12, r.gainDb), 0) / Math.max(1, rows.length);
  };
  const plain = mean(null);
  let best: { frequency: number; q: number; gainDb: number } | null = null;
  for (const frequency of rotationFrequencies)
    for (const q of rotationSteepness) {
      const gainDb = mean({ frequency, q }) - plain;
      if (gainDb > (best?.gainDb ?? least)) best = { frequency: Math.round(frequency), q, gainDb };
    }
  return best;
}
