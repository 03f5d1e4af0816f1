import type { LayerPlace } from "../engine/oneShots/placeStrokes";
import { designButterworth, filtered } from "../signal/biquad";
import { dbToPower, powerToDb } from "../signal/level";
import { stretchOf } from "../signal/samples";

/** A stroke of the drum's main mic beside the same stroke as the layer plays it. */
export interface LayerPair {
  /** The stroke, s. */
  readonly time: number;
  /** Energy of the sum below 250 Hz against that of both apart, dB: as it is, and at its best. */
  readonly nowDb: number;
  readonly bestDb: number;
  /** So many frames behind its stroke, and turned against all the others where that is told, it is at its best. */
  readonly frames: number;
  readonly turned: boolean;
}

export interface LayerAlignment {
  /** -1: the layer must be turned over. */
  readonly polarity: 1 | -1;
  readonly strokes: readonly LayerPair[];
}

/** The low end, where two sounds of one drum take from each other what counts (common practice, no source), Hz. */
const lowEnd = 250;
/** How far a sound may be moved from its stroke, s: further it would be heard as a second stroke (common practice, no source). */
export const shiftReach = 0.006;
/** What is compared of a stroke, s. */
const lead = 0.01;
const span = 0.09;
/** Time in which the filter comes to rest, s. */
const settle = 0.02;

/** A stretch of a signal below 250 Hz. */
function lowOf(x: Float32Array, from: number, frames: number, sampleRate: number): Float32Array {
  const before = Math.round(settle * sampleRate);
  const y = stretchOf(x, from - before, before + frames);
  return filtered(y, designButterworth("low", lowEnd, 4, sampleRate)).subarray(before);
}

/** Products of a main stroke with the layer moved later by -reach to reach frames, and the layer's energy there. */
function products(
  main: Float32Array,
  layer: Float32Array,
  reach: number,
): { cross: Float64Array; own: Float64Array } {
  const cross = new Float64Array(2 * reach + 1);
  const own = new Float64Array(2 * reach + 1);
  const n = main.length;
  let energy = 0;
  // layer begins `reach` frames earlier than main: moved later by s, it is read from reach - s on.
  for (let i = 0; i < n; i++) energy += layer[2 * reach + i]! ** 2;
  for (let s = -reach; s <= reach; s++) {
    const at = reach - s;
    if (s > -reach) energy += layer[at]! ** 2 - layer[at + n]! ** 2;
    own[s + reach] = energy;
    let sum = 0;
    for (let i = 0; i < n; i++) sum += main[i]! * layer[at + i]!;
    cross[s + reach] = sum;
  }
  return { cross, own };
}

/** Moved beside what suits all strokes a stroke gains so much at least, dB: sounds that jump about their strokes are heard as loose playing. */
const worthMoving = 0.1;
/** Turned over beside the others a stroke gains more than so much, dB: then it is in phase within what is aimed at. */
const worthTurning = 0.5;

/** One stroke: energy of both apart, and of the sum with the layer played so many frames before to behind it, on either side. */
interface Curve {
  readonly time: number;
  readonly apart: number;
  /** Of the sum as it plays now. */
  readonly now: number;
  readonly sums: Readonly<Record<"1" | "-1", Float64Array>>;
}

const db = (a: number, b: number): number => powerToDb(Math.max(1e-12, a / b));
const largestAt = (x: Float64Array): number => x.reduce((best, v, i) => (v > x[best]! ? i : best), 0);

function curveOf(
  main: Float32Array,
  layer: Float32Array,
  time: number,
  plays: LayerPlace,
  sampleRate: number,
): Curve[] {
  const reach = Math.round(shiftReach * sampleRate);
  const n = Math.round((lead + span) * sampleRate);
  const from = Math.round((time - lead) * sampleRate);
  const x = lowOf(main, from, n, sampleRate);
  const sideNow = plays.turned ? -1 : 1;
  // Read from where it plays by now, so that places are counted from the stroke.
  const { cross, own } = products(
    x,
    lowOf(layer, from - reach + plays.frames, n + 2 * reach, sampleRate),
    reach,
  );
  const as = products(x, lowOf(layer, from, n, sampleRate), 0);
  const energy = x.reduce((sum, v) => sum + v * v, 0);
  const apart = energy + own[reach]!;
  if (energy < 1e-10 || own[reach]! < 1e-10) return [];
  const sums = (side: number) => own.map((e, s) => Math.max(0, energy + e + 2 * side * sideNow * cross[s]!));
  const now = Math.max(0, energy + as.own[0]! + 2 * as.cross[0]!);
  return [{ time, apart, now, sums: { "1": sums(1), "-1": sums(-1) } }];
}

/** By place, how much of the best that each stroke can reach is reached, added up over the strokes. */
function together(curves: readonly Curve[], side: "1" | "-1"): Float64Array {
  const all = new Float64Array(curves[0]?.sums[side].length ?? 0);
  for (const { sums, apart } of curves) sums[side].forEach((v, s) => (all[s]! += v / apart));
  return all;
}

/**
 * Where a layer must be played at every stroke, and whether it must be turned over, so that its low end and the mic's add up. The side is one for
 * all strokes: the one with which the sums of all hold more energy; a stroke that loses much by it has the other. It is played where all are
 * best as long as it loses little by that.
 * Shape  main: the drum's main mic as its chain gives it; layer: the layer as it plays by now, both on one time line; times: strokes as they are
 *        played, s; placeOf: how they play by now beside them.
 */
export function alignLayer(
  main: Float32Array,
  layer: Float32Array,
  times: readonly number[],
  sampleRate: number,
  placeOf: (time: number) => LayerPlace = () => ({ frames: 0, turned: false }),
): LayerAlignment {
  const reach = Math.round(shiftReach * sampleRate);
  const curves = times.flatMap((time) => curveOf(main, layer, time, placeOf(time), sampleRate));
  if (curves.length === 0) return { polarity: 1, strokes: [] };
  const most = (side: "1" | "-1") =>
    curves.reduce((sum, { sums, apart }) => sum + Math.max(...sums[side]) / apart, 0);
  const side = most("1") >= most("-1") ? "1" : "-1";
  const common = largestAt(together(curves, side));
  return {
    polarity: side === "1" ? 1 : -1,
    strokes: curves.map(({ time, apart, now, sums }): LayerPair => {
      const best = Math.max(...sums["1"], ...sums["-1"]);
      const turned = Math.max(...sums[side]) < best * dbToPower(-worthTurning);
      const own = sums[turned === (side === "1") ? "-1" : "1"];
      const enough = own[largestAt(own)]! * dbToPower(-worthMoving);
      let place = common;
      for (let d = 1; own[place]! < enough; d++)
        if ((own[common - d] ?? 0) >= enough) place = common - d;
        else if ((own[common + d] ?? 0) >= enough) place = common + d;
      return {
        time,
        turned,
        frames: place - reach,
        nowDb: db(now, apart),
        bestDb: db(best, apart),
      };
    }),
  };
}
