import { cutSnippets, spreadOver } from "../hits/snippets";
import { powerToDb } from "../signal/level";
import { averagePower, curveOf, type LevelCurve } from "../measure/spectrum";

/** What folding two channels to one costs. */
export interface FoldLoss {
  /** Hz, twelve an octave. */
  readonly frequencies: readonly number[];
  /** Change of the power by frequency when both sides are folded to their mean, dB; 0 loses nothing, -3 is what differs wholly. */
  readonly lossDb: readonly number[];
  /** Power of all that lies below each frequency, of both sides in the mean, and folded. */
  readonly below: { readonly both: readonly number[]; readonly folded: readonly number[] };
  /** Strokes that it was read at. */
  readonly strokes: number;
}

/** Part of a stroke that is read, s from its onset, and strokes at most. */
const [from, to] = [0, 0.2];
const most = 64;
/** Nothing left is told as this, dB. */
const nothing = -40;

/**
 * What is lost of strokes when left and right are folded to their mean, by frequency: the power of (L + R) / 2 against the mean power of
 * both. Equal sides lose nothing, unrelated ones 3.01 dB, opposite ones all (Pythagoras and the parallelogram law).
 * Shape   channels equally long; onsets of the strokes in them, frames.
 */
export function foldLoss(
  [left, right]: readonly [Float32Array, Float32Array],
  onsets: readonly number[],
  sampleRate: number,
): FoldLoss {
  const times = spreadOver(
    onsets.map((f) => f / sampleRate),
    most,
  );
  const middle = left.map((l, i) => (l + right[i]!) / 2);
  const of = (x: Float32Array) => averagePower(cutSnippets(x, times, from, to, sampleRate), sampleRate);
  const [l, r, folded] = [of(left), of(right), of(middle)];
  const both = { ...folded, power: l.power.map((p, k) => (p + r.power[k]!) / 2) };
  const [before, after] = [both, folded].map((p) => curveOf(p, sampleRate)) as [LevelCurve, LevelCurve];
  const upTo = ({ power, size }: typeof folded) =>
    Array.from(before.frequencies, (f) => sumTo(power, (f * size) / sampleRate));
  return {
    frequencies: Array.from(before.frequencies),
    lossDb: Array.from(before.levels, (db, k) => Math.max(nothing, Math.min(0, after.levels[k]! - db))),
    below: { both: upTo(both), folded: upTo(folded) },
    strokes: times.length,
  };
}

/** Sum of the bins below a place. */
const sumTo = (power: Float64Array, place: number): number =>
  power.subarray(0, Math.ceil(place)).reduce((sum, p) => sum + p, 0);

/** Change of the whole power below a frequency when it is folded, dB. */
export function foldedBelow({ frequencies, below }: FoldLoss, corner: number): number {
  const next = frequencies.findIndex((f) => f >= corner);
  const at = next < 0 ? frequencies.length - 1 : next;
  const [both, folded] = [below.both[at]!, below.folded[at]!];
  return both > 0 ? Math.max(nothing, powerToDb(folded / both)) : 0;
}
