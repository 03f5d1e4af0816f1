import { designButterworth } from "../signal/biquad";
import { FilteredSamples } from "../signal/filteredSamples";
import { peakOf } from "../signal/level";
import type { Samples } from "../signal/samples";
import type { Piece } from "../song/song";
import { isCymbal } from "./ownBands";

/** Band in which the start of a stroke is looked for, Hz. */
const onsetBand = (piece: Piece): [number, number] =>
  piece === "kick" ? [40, 8000] : isCymbal(piece) ? [2000, 16000] : [120, 5000];

/** Above this a stroke shows through the ring of the one before it, Hz. */
const attackFrom = 1800;

/** A close mic as its drum's strokes begin in it; to be read forwards. */
export interface OnsetSignals {
  /** In the band of the whole stroke. */
  readonly stroke: Samples;
  /** Only its attack. */
  readonly attack: Samples;
}

export function onsetSignals(audio: Samples, piece: Piece, sampleRate: number): OnsetSignals {
  const [low, high] = onsetBand(piece);
  const upper = designButterworth("low", Math.min(high, 0.45 * sampleRate), 2, sampleRate);
  const above = (hz: number) =>
    new FilteredSamples(audio, [...designButterworth("high", hz, 2, sampleRate), ...upper]);
  const stroke = above(low);
  return { stroke, attack: low >= attackFrom ? stroke : above(attackFrom) };
}

/** The instant at which the energy rises most over what was there before: also over the ring of a louder stroke. */
function steepest(x: Float32Array, from: number, to: number, ms: number): number {
  const ahead = Math.round(1.5 * ms);
  const gap = Math.round(0.5 * ms);
  const back = Math.round(4 * ms);
  const first = Math.max(0, from - back - gap);
  const sums = new Float64Array(to + ahead - first + 1);
  for (let i = first; i < to + ahead; i++) sums[i - first + 1] = sums[i - first]! + (x[i] ?? 0) ** 2;
  const energy = (a: number, b: number): number => {
    const start = Math.max(a, first);
    return b <= start ? 0 : (sums[b - first]! - sums[start - first]!) / (b - start);
  };
  let loudest = 0;
  for (let i = from; i < to; i++) loudest = Math.max(loudest, energy(i, i + ahead));
  let best = { at: from, rise: -1 };
  for (let i = from; i < to; i++) {
    const rise = energy(i, i + ahead) / (energy(i - gap - back, i - gap) + 0.05 * loudest);
    if (rise > best.rise) best = { at: i, rise };
  }
  return best.at;
}

/** How far around an instant `startIn` looks, ms. */
const looked = { before: 17, behind: 13 } as const;

/** Start of what rises most in a signal, and whether something that rang before is too loud to tell it well. */
function startAround(x: Samples, around: number, ms: number): { start: number; drowned: boolean } {
  const from = Math.max(0, around - Math.ceil(looked.before * ms));
  const near = x.subarray(from, Math.min(x.length, around + Math.ceil(looked.behind * ms)));
  const { start, drowned } = startIn(near, around - from, ms);
  return { start: from + start, drowned };
}

/** As `startAround`, in a stretch that holds all that is looked at. */
function startIn(x: Float32Array, around: number, ms: number): { start: number; drowned: boolean } {
  const to = Math.min(x.length, Math.round(around + 12 * ms));
  const earliest = Math.max(0, Math.round(around - 8 * ms));
  const rise = steepest(x, earliest, Math.round(around + 4 * ms), ms);
  const from = Math.max(earliest, rise - Math.round(2 * ms));
  const peak = peakOf(x, from, to);
  const ring = peakOf(x, Math.max(0, Math.round(from - 4 * ms)), from);
  const over = Math.max(0.5 * peak, Math.min(1.2 * ring, 0.9 * peak));
  let half = from;
  while (half < to && Math.abs(x[half]!) < over) half++;
  const before = peakOf(x, Math.round(half - 8 * ms), Math.round(half - 2.5 * ms));
  const limit = Math.max(0.1 * peak, Math.min(1.5 * before, 0.45 * peak));
  const quiet = Math.round(0.8 * ms);
  let start = half;
  for (let i = half; i >= Math.max(0, half - 6 * ms) && start - i <= quiet; i--)
    if (Math.abs(x[i]!) >= limit) start = i;
  return { start, drowned: 1.5 * before > 0.45 * peak };
}

/**
 * First frame of the transient that dominates the surroundings of `around`: from half of the largest magnitude back to
 * where the signal leaves what was there before (a hat some ms earlier, a ringing tail) or a tenth of its peak. Where a
 * ring drowns it, the attack tells.
 * The start lies at most 14 ms before and 12 ms behind `around`.
 */
export function findStart({ stroke, attack }: OnsetSignals, around: number, sampleRate: number): number {
  const ms = sampleRate / 1000;
  const found = startAround(stroke, around, ms);
  if (!found.drowned || attack === stroke) return found.start;
  const clearer = startAround(attack, around, ms);
  return clearer.drowned ? found.start : clearer.start;
}
