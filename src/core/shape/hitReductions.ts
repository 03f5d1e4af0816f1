import { blockFrames } from "../engine/engine";
import { SoloChain } from "../engine/soloChain";
import type { ProcessorState } from "../song/song";
import { gainToDb, powerToDb } from "../signal/level";
import { ringT60 } from "./measureRing";
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

interface Alone {
  after: Float32Array;
  reduction: Float32Array;
}

/** Runs one processor over what comes into it and notes its output and gain reduction, in the time of the input. */
function runAlone(
  state: ProcessorState,
  input: readonly Float32Array[],
  sampleRate: number,
  hits: Float64Array,
): Alone {
  const frames = input[0]!.length;
  const alone = new SoloChain([state], sampleRate, input.length);
  alone.setHits(hits);
  const found = {
    after: new Float32Array(frames),
    reduction: new Float32Array(Math.ceil(frames / blockFrames)),
  };
  const block = input.map(() => new Float32Array(blockFrames));
  for (let t = 0; t < frames + alone.latency; t += blockFrames) {
    block.forEach((b, ch) => {
      b.fill(0);
      if (t < frames) b.set(input[ch]!.subarray(t, Math.min(frames, t + blockFrames)));
    });
    alone.process(block, t);
    const position = t - alone.latency;
    const skip = Math.max(0, -position);
    const take = Math.min(blockFrames, frames - position);
    if (take > skip) found.after.set(alone.output[0]!.subarray(skip, take), position + skip);
    const slot = Math.floor(position / blockFrames);
    if (slot >= 0 && slot < found.reduction.length) found.reduction[slot] = alone.reductionDb(0);
  }
  return found;
}

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
  onsets.forEach((onset, k) => {
    const end = Math.min(x.length, (onsets[k + 1] ?? x.length) - 0.02 * sampleRate);
    for (let i = Math.round(onset) + clear; i < end; i++) {
      sum += x[i]! * x[i]!;
      n++;
    }
  });
  return powerToDb(n > 0 ? sum / n : 0);
}

/** The chain in front of a processor. Errors: RangeError for a processor that is not in the chain. */
export function chainBefore(chain: readonly ProcessorState[], processor: string): readonly ProcessorState[] {
  const at = chain.findIndex((p) => p.id === processor);
  if (at < 0) throw new RangeError(`the chain has no processor "${processor}"`);
  return chain.slice(0, at);
}

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
  const { after, reduction } = runAlone({ ...state, on: true }, input, sampleRate, hits);
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
  const peakBefore = strokes.map((o) => peakIn(before, o - 48, o + span));
  const byPeak = strokes.map((o, i) => ({ o, peak: peakBefore[i]! })).sort((a, b) => a.peak - b.peak);
  const third = Math.ceil(strokes.length / 3);
  const envelopesOf = (list: readonly { o: number }[]): Envelopes => {
    const onsets = list.map(({ o }) => o);
    return { before: envelope(before, onsets, sampleRate), after: envelope(after, onsets, sampleRate) };
  };
  return {
    strokes: [...strokes],
    reductionDb: strokes.map(reductionOf),
    peakBefore,
    peakAfter: strokes.map((o) => peakIn(after, o - 48, o + span)),
    envelopeBefore: envelope(before, strokes, sampleRate),
    envelopeAfter: envelope(after, strokes, sampleRate),
    loudThird: envelopesOf(byPeak.slice(-third)),
    softThird: envelopesOf(byPeak.slice(0, third)),
    betweenBefore: levelBetween(before, strokes, sampleRate),
    betweenAfter: levelBetween(after, strokes, sampleRate),
    loudnessBefore: strokeLoudness(before, strokes, sampleRate),
    loudnessAfter: strokeLoudness(after, strokes, sampleRate),
    ringBefore: ringOf(before),
    ringAfter: ringOf(after),
  };
}

/** Times of the points of the envelopes against the onset, ms. */
export const envelopeTimesMs: readonly number[] = Array.from(
  { length: envelopeSteps },
  (_, k) => 1000 * (envelopeFrom + (k + 0.5) * envelopeStep),
);
