import { powerOfTwo, RealFft } from "../signal/fft";
import { bandLooks, type BandLayout } from "./bandLooks";
import { addPart, fitFactors, type Factors } from "./factors";
import { loopDrums, type LoopDrum } from "./loopDrums";

/** Strokes of a loop by drum, s. */
export type StrokeTimes = Readonly<Record<LoopDrum, readonly number[]>>;

/** A loop in parts that add up to it. Shape  [channel] each. */
export type LoopParts = Readonly<Record<LoopDrum | "rest", Float32Array[]>>;

/** What one look takes in, s; four of them overlap. */
const lookSeconds = 0.04;
/** How long a stroke is followed by its drum's pattern, s. */
const followed: Readonly<Record<LoopDrum, number>> = { kick: 0.3, snare: 0.3, hat: 0.25 };
/** Patterns for strokes that are of none of the drums, and for what lasts. */
const strangePatterns = 2;
const lastingPatterns = 6;
const rounds = 40;
/** Shares are those of the magnitudes to this power. */
const sharpness = 1.7;
/** What is taken out lies on this grid, so that it and the rest add up to a loop of 24 bits or fewer without any rounding. */
const grid = 2 ** 23;

/** Bands an octave above the low end, where every bin is one (common practice, no source). */
const bandsPerOctave = 8;

/** Edges of bands over all bins but that of the constant. */
function octaveEdges(size: number): number[] {
  const end = size / 2 + 1;
  const edges = [1];
  for (let last = 1; last < end; edges.push(last))
    last = Math.min(end, Math.max(last + 1, Math.round(last * 2 ** (1 / bandsPerOctave))));
  return edges;
}

/** Looks at which a drum may begin: the ones around its strokes. */
function beginnings(times: readonly number[], looks: number, hop: number, sampleRate: number): Float64Array {
  const gains = new Float64Array(looks);
  for (const time of times) {
    const at = Math.round((time * sampleRate) / hop);
    for (let t = at - 1; t <= at + 1; t++) if (t >= 0 && t < looks) gains[t] = 1;
  }
  return gains;
}

/** The average of what follows strokes. */
function patternAfter(
  values: Float64Array,
  gains: Float64Array,
  taps: number,
  looks: number,
  bands: number,
): Float64Array {
  const pattern = new Float64Array(taps * bands).fill(1e-6);
  let count = 0;
  for (let t = 0; t < looks; t++) {
    if (gains[t] === 0) continue;
    count++;
    for (let l = 0; l < taps && t + l < looks; l++)
      for (let b = 0; b < bands; b++) pattern[l * bands + b]! += values[(t + l) * bands + b]!;
  }
  for (let i = 0; i < pattern.length; i++) pattern[i]! /= Math.max(1, count);
  return pattern;
}

/** Patterns and gains before they are fitted: drums, strange strokes, what lasts. */
function firstFactors(
  values: Float64Array,
  looks: number,
  bands: number,
  layout: BandLayout,
  times: StrokeTimes,
  strange: readonly number[],
): Factors {
  const { hop, sampleRate } = layout;
  const patterns: Float64Array[] = [];
  const gains: Float64Array[] = [];
  const add = (at: readonly number[], seconds: number, turn: number) => {
    const begin = beginnings(at, looks, hop, sampleRate);
    const taps = Math.round((seconds * sampleRate) / hop);
    const pattern = patternAfter(values, begin, taps, looks, bands);
    // Patterns that begin alike would stay alike.
    if (turn > 0)
      for (let i = 0; i < pattern.length; i++) pattern[i]! *= 0.6 + 0.8 * (((i + turn) % bands) / bands);
    patterns.push(pattern);
    gains.push(begin);
  };
  for (const drum of loopDrums) add(times[drum], followed[drum], 0);
  for (let k = 0; k < strangePatterns; k++) add(strange, 0.35, 7 * k + 1);
  let mean = 0;
  for (const v of values) mean += v / values.length;
  for (let k = 0; k < lastingPatterns; k++) {
    patterns.push(Float64Array.from({ length: bands }, (_, b) => 0.3 + ((b * (2 * k + 3)) % 11) / 11));
    gains.push(new Float64Array(looks).fill(0.1 * mean));
  }
  return { patterns, gains };
}

/** Share of each drum by look and band. */
function sharesOf(factors: Factors, looks: number, bands: number): Float64Array[] {
  const parts = factors.patterns.map((_, k) => {
    const part = new Float64Array(looks * bands);
    addPart(factors, k, looks, bands, part);
    return part;
  });
  const total = new Float64Array(looks * bands).fill(1e-20);
  for (const part of parts) for (let i = 0; i < part.length; i++) total[i]! += part[i]! ** sharpness;
  return loopDrums.map((_, k) => parts[k]!.map((v, i) => v ** sharpness / total[i]!));
}

/**
 * Takes a loop apart into its drums by where they are struck: each drum is a pattern of levels by band and time that its strokes have in common,
 * fitted together with what lasts and with strokes of nothing known; a drum gets its share of every look and band. What is left is the rest, so
 * that all parts add up to the loop: exactly, where its samples have 24 bits or fewer.
 * Source  patterns: see factors.ts, gains only at strokes: Wu and Lerch, Drum transcription using partially fixed NMF, EUSIPCO 2015 (from memory).
 * Shape  channels [channel][frame]; strange: strokes of nothing that is known, s.
 */
export function takeApart(
  channels: readonly Float32Array[],
  sampleRate: number,
  times: StrokeTimes,
  strange: readonly number[] = [],
): LoopParts {
  const size = powerOfTwo(Math.round(lookSeconds * sampleRate));
  const layout = { sampleRate, size, hop: size / 4, edges: octaveEdges(size) };
  const { energies, looks, bands } = bandLooks(channels, layout);
  const values = energies.map(Math.sqrt);
  const factors = firstFactors(values, looks, bands, layout, times, strange);
  fitFactors(values, looks, bands, factors, { rounds });
  const shares = sharesOf(factors, looks, bands);
  const taken = loopDrums.map((drum, k) =>
    times[drum].length === 0
      ? channels.map((x) => new Float32Array(x.length))
      : channels.map((x) => onGrid(masked(x, shares[k]!, layout, looks, bands))),
  );
  const rest = channels.map((x, ch) =>
    x.map((v, i) => v - taken.reduce((sum, part) => sum + part[ch]![i]!, 0)),
  );
  return {
    ...(Object.fromEntries(loopDrums.map((d, k) => [d, taken[k]!])) as Record<LoopDrum, Float32Array[]>),
    rest,
  };
}

function onGrid(x: Float32Array): Float32Array {
  for (let i = 0; i < x.length; i++) x[i] = Math.round(x[i]! * grid) / grid;
  return x;
}

/** One channel with a share of every look and band of it. */
function masked(
  x: Float32Array,
  share: Float64Array,
  { size, hop, edges }: BandLayout,
  looks: number,
  bands: number,
): Float32Array {
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  // Before and behind the transform, so that overlapping looks fade over into each other.
  const window = Float64Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size));
  const y = new Float64Array(x.length);
  const back = new Float64Array(size);
  const norm = size / (2 * hop);
  for (let t = 0; t < looks; t++) {
    const from = t * hop - size / 2;
    fft.forward(x, from, size, spectrum, window);
    let any = 0;
    for (let b = 0; b < bands; b++) {
      const s = share[t * bands + b]!;
      any = Math.max(any, s);
      for (let i = edges[b]!; i < edges[b + 1]!; i++) {
        spectrum.re[i]! *= s;
        spectrum.im[i]! *= s;
      }
    }
    if (any < 1e-6) continue;
    spectrum.re[0] = 0;
    spectrum.im[0] = 0;
    fft.inverse(spectrum, back);
    for (let i = Math.max(0, -from); i < size && from + i < y.length; i++)
      y[from + i]! += (back[i]! * window[i]!) / norm;
  }
  return Float32Array.from(y);
}
