import { blockFrames } from "../engine/engine";
import type { ProcessorState } from "../song/song";
import { gainToDb, powerToDb } from "../signal/level";
import { ringT60 } from "./measureRing";
import { runInParts } from "./runInParts";
import { strokeLoudness, type StrokeLoudness } from "./strokeLoudness";

/** An average envelope before and after, dBFS at `envelopeTimesMs`. */
export interface Envelopes {
  before: number[];
  after: number[];
}

/** What one processor of a chain does to every stroke. */
export interface StrokeEffect {
  /** Onsets of the main strokes it was measured over, frames of the recording. */
  strokes: number[];
  /** Largest gain reduction within the stroke's first 80 ms, dB; one per stroke. */
  reductionDb: number[];
  /** Peak of every stroke before and after the processor, dBFS. */
  peakBefore: number[];
  peakAfter: number[];
  /** Average envelope of the strokes before and after, dBFS per 2 ms from 10 ms before the onset on. */
  envelopeBefore: number[];
  envelopeAfter: number[];
  /** As the envelopes, of the loudest and of the softest third of the strokes. */
  loudThird: Envelopes;
  softThird: Envelopes;
  /** Mean level between strokes before and after, dBFS: how much the bleed comes up. */
  betweenBefore: number;
  betweenAfter: number;
  /** How loud the strokes are before and after. */
  loudnessBefore: StrokeLoudness;
  loudnessAfter: StrokeLoudness;
  /** T60 of the ring that is asked for, before and after, s; null: none is, or it cannot be read. */
  ringBefore: number | null;
  ringAfter: number | null;
}

const strokeSeconds = 0.08;
const envelopeStep = 0.002;
const envelopeFrom = -0.01;
const envelopeSteps = 105;

/** Largest magnitude between two places that need not be whole frames, dBFS. */
const peakIn = (x: Float32Array, from: number, to: number): number => {
  let most = 0;
  for (let i = Math.max(0, Math.round(from)); i < Math.min(x.length, to); i++)
    most = Math.max(most, Math.abs(x[i]!));
  return gainToDb(most);
};

/** Average envelope of strokes, dBFS at `envelopeTimesMs`. Shape  onsets in frames. */
export function envelope(x: Float32Array, onsets: readonly number[], sampleRate: number): number[] {
  const step = Math.round(envelopeStep * sampleRate);
  return Array.from({ length: envelopeSteps }, (_, k) => {
    let sum = 0;
    let n = 0;
    for (const onset of onsets) {
      const from = Math.round(onset + envelopeFrom * sampleRate + k * step);
      if (from < 0 || from + step > x.length) continue;
      for (let i = from; i < from + step; i++) sum += x[i]! * x[i]!;
      n += step;
    }
    return powerToDb(n > 0 ? sum / n : 0);
  });
}

function levelBetween(x: Float32Array, onsets: readonly number[], sampleRate: number): number {
  const clear = Math.round(0.25 * sampleRate);
  let sum = 0;
  let n = 0;
  for (let k = 0; k < onsets.length; k++) {
    const from = Math.round(onsets[k]!) + clear;
    const end = Math.min(x.length, (onsets[k + 1] ?? x.length) - 0.02 * sampleRate);
    for (let i = from; i < end; i++) sum += x[i]! * x[i]!;
    n += Math.max(0, Math.ceil(end) - from);
  }
  return powerToDb(n > 0 ? sum / n : 0);
}

/** The chain in front of a processor. Errors: RangeError for a processor that is not in the chain. */
export function chainBefore(chain: readonly ProcessorState[], processor: string): readonly ProcessorState[] {
  const at = chain.findIndex((p) => p.id === processor);
  if (at < 0) throw new RangeError(`the chain has no processor "${processor}"`);
  return chain.slice(0, at);
}

/** The strokes of a signal, as `StrokeEffect` tells them before or after a processor. */
interface StrokeLevels {
  readonly peaks: number[];
  readonly envelope: number[];
  readonly loudThird: number[];
  readonly softThird: number[];
  readonly between: number;
  readonly loudness: StrokeLoudness;
}

const peaksOf = (x: Float32Array, strokes: readonly number[], sampleRate: number): number[] =>
  strokes.map((o) => peakIn(x, o - 48, o + Math.round(strokeSeconds * sampleRate)));

/** `byPeak`: the strokes from the softest to the loudest as they came in. */
function levelsOf(
  x: Float32Array,
  strokes: readonly number[],
  byPeak: readonly number[],
  sampleRate: number,
): StrokeLevels {
  const third = Math.ceil(strokes.length / 3);
  return {
    peaks: peaksOf(x, strokes, sampleRate),
    envelope: envelope(x, strokes, sampleRate),
    loudThird: envelope(x, byPeak.slice(-third), sampleRate),
    softThird: envelope(x, byPeak.slice(0, third), sampleRate),
    between: levelBetween(x, strokes, sampleRate),
    loudness: strokeLoudness(x, strokes, sampleRate),
  };
}

interface CameIn extends StrokeLevels {
  readonly strokes: readonly number[];
  readonly byPeak: readonly number[];
}

/** What was last told of a signal that comes in: it stays while the processor behind it is turned. */
const told = new WeakMap<Float32Array, CameIn>();

function cameIn(x: Float32Array, strokes: readonly number[], sampleRate: number): CameIn {
  const known = told.get(x);
  if (known && sameStrokes(known.strokes, strokes)) return known;
  const peaks = peaksOf(x, strokes, sampleRate);
  const ranked = strokes.map((o, i) => ({ o, peak: peaks[i]! })).sort((a, b) => a.peak - b.peak);
  const byPeak = ranked.map(({ o }) => o);
  const found = { strokes: [...strokes], byPeak, ...levelsOf(x, strokes, byPeak, sampleRate) };
  told.set(x, found);
  return found;
}
const sameStrokes = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((o, i) => o === b[i]);

/**
 * What one processor does to every stroke of a drum.
 * Shape   input: what comes into the processor; `strokes`: onsets of main strokes in it, `hits`: onsets of all strokes, ascending
 *         frames of the input; `ring`: frequency whose decay is read, Hz.
 */
export function strokeEffect(
  state: ProcessorState,
  input: readonly Float32Array[],
  strokes: readonly number[],
  hits: Float64Array,
  sampleRate: number,
  ring: number | null = null,
): StrokeEffect {
  const before = input[0]!;
  const { after, reduction } = runInParts({ ...state, on: true }, input, sampleRate, hits);
  const span = Math.round(strokeSeconds * sampleRate);
  const reductionOf = (onset: number) => {
    let most = 0;
    const last = Math.ceil((onset + span) / blockFrames);
    for (let b = Math.max(0, Math.floor(onset / blockFrames)); b < Math.min(reduction.length, last); b++)
      most = Math.max(most, reduction[b]!);
    return most;
  };
  const seconds = Array.from(hits, (h) => h / sampleRate);
  const ringOf = (x: Float32Array) => (ring === null ? null : ringT60(x, seconds, ring, sampleRate));
  const came = cameIn(before, strokes, sampleRate);
  const left = levelsOf(after, strokes, came.byPeak, sampleRate);
  return {
    strokes: [...strokes],
    reductionDb: strokes.map(reductionOf),
    peakBefore: came.peaks,
    peakAfter: left.peaks,
    envelopeBefore: came.envelope,
    envelopeAfter: left.envelope,
    loudThird: { before: came.loudThird, after: left.loudThird },
    softThird: { before: came.softThird, after: left.softThird },
    betweenBefore: came.between,
    betweenAfter: left.between,
    loudnessBefore: came.loudness,
    loudnessAfter: left.loudness,
    ringBefore: ringOf(before),
    ringAfter: ringOf(after),
  };
}

/** Times of the points of the envelopes against the onset, ms. */
export const envelopeTimesMs: readonly number[] = Array.from(
  { length: envelopeSteps },
  (_, k) => 1000 * (envelopeFrom + (k + 0.5) * envelopeStep),
);
