import { firstAbove, firstFrom } from "../signal/ascending";
import { median } from "../signal/level";

/** Strokes as beats are fitted to: ascending instants in s with their weights. */
export interface Instants {
  readonly times: readonly number[];
  readonly weights: readonly number[];
}

export interface SteadyFit {
  readonly period: number; // of a part, s
  readonly offset: number; // s
}

/** Share of a part beyond which a stroke says nothing about where the part begins. */
const outlier = 0.3;
/** Spread of a player, s: strokes further off count for less. */
const usualSpread = 0.008;

/** Steady parts of a beat that fit best near a first guess: least squares on the nearest parts, outliers left out. */
export function fitSteady({ times, weights }: Instants, guess: SteadyFit): SteadyFit {
  let { period, offset } = guess;
  for (let round = 0; round < 6; round++) {
    let sw = 0,
      si = 0,
      st = 0,
      sii = 0,
      sit = 0;
    for (let k = 0; k < times.length; k++) {
      const i = Math.round((times[k]! - offset) / period);
      const off = Math.abs(times[k]! - offset - i * period);
      if (off > outlier * period) continue;
      const w = weights[k]! / (1 + (off / usualSpread) ** 2);
      sw += w;
      si += w * i;
      st += w * times[k]!;
      sii += w * i * i;
      sit += w * i * times[k]!;
    }
    const det = sw * sii - si * si;
    if (det <= 0) break;
    period = (sw * sit - si * st) / det;
    offset = (st - period * si) / sw;
  }
  return { period, offset };
}

/** Weighted root mean square distance of the strokes from parts of the beat that `lineOf` gives, s. */
export function spreadAround({ times, weights }: Instants, lineOf: (t: number) => number): number {
  let sum = 0;
  let total = 0;
  times.forEach((t, k) => {
    sum += weights[k]! * (t - lineOf(t)) ** 2;
    total += weights[k]!;
  });
  return Math.sqrt(sum / Math.max(total, 1e-9));
}

/** How quickly a followed pulse takes up a stroke's deviation: in its place and in its period. */
const followPlace = 0.18;
const followPeriod = 0.02;
/** Largest share by which the followed tempo may leave the steady one. */
const furthest = 0.12;
/** Beats on both sides over which the followed beats are smoothed. */
const smoothBeats = 6;

/** Counts every stroke's part along a pulse that follows the playing, from `anchor` towards one end. */
function countParts(
  x: Instants,
  fit: SteadyFit,
  anchor: number,
  direction: 1 | -1,
  into: Map<number, number>,
): void {
  let period = fit.period;
  let index = Math.round((x.times[anchor]! - fit.offset) / fit.period);
  let at = fit.offset + index * fit.period;
  for (let k = anchor; k >= 0 && k < x.times.length; k += direction) {
    const t = x.times[k]!;
    const steps = Math.round((t - at) / period);
    const off = t - at - steps * period;
    index += steps;
    at += steps * period;
    if (Math.abs(off) > outlier * period) continue;
    into.set(k, index);
    const w = Math.min(1, x.weights[k]!);
    at += followPlace * w * off;
    if (steps !== 0) period += (followPeriod * w * off) / steps;
    period = Math.min(fit.period * (1 + furthest), Math.max(fit.period * (1 - furthest), period));
  }
}

/** A line through points at `x`, weighted by their distance; null for too few. */
function localLine(
  points: readonly (readonly [x: number, y: number, w: number])[],
  at: number,
  reach: number,
): number | null {
  let sw = 0,
    sx = 0,
    sy = 0,
    sxx = 0,
    sxy = 0;
  for (const [x, y, weight] of points) {
    const d = Math.abs(x - at) / reach;
    if (d >= 1) continue;
    const w = weight * (1 - d ** 3) ** 3;
    sw += w;
    sx += w * (x - at);
    sy += w * y;
    sxx += w * (x - at) ** 2;
    sxy += w * (x - at) * y;
  }
  const det = sw * sxx - sx * sx;
  return sw < 1 || det < 1e-6 * sw ? null : (sxx * sy - sx * sxy) / det;
}

/**
 * Beats that follow a playing whose tempo moves: the strokes' parts are counted along a pulse that follows them, then
 * the beats are smoothed over some bars, so that the player's spread is averaged out and the drift stays.
 * Shape   `perBeat` parts a beat; beat i lies at part i * perBeat of the steady fit, from `first` to `last`.
 * Source  local regression with tricube weights: Cleveland, J. Am. Stat. Assoc. 74, 1979.
 */
export function followBeats(
  x: Instants,
  fit: SteadyFit,
  perBeat: number,
  anchorTime: number,
): { index: number; time: number }[] {
  const anchor = x.times.reduce(
    (best, t, k) => (Math.abs(t - anchorTime) < Math.abs(x.times[best]! - anchorTime) ? k : best),
    0,
  );
  const parts = new Map<number, number>();
  countParts(x, fit, anchor, 1, parts);
  countParts(x, fit, anchor, -1, parts);
  const points = [...parts].map(([k, i]) => [i / perBeat, x.times[k]!, x.weights[k]!] as const);
  points.sort((a, b) => a[0] - b[0]);
  if (points.length < 8) return [];
  const first = Math.floor(points[0]![0]);
  const last = Math.ceil(points[points.length - 1]![0]);
  const beats: { index: number; time: number }[] = [];
  const places = Float64Array.from(points, ([place]) => place);
  const reach = 3 * smoothBeats;
  for (let b = first; b <= last; b++) {
    const near = points.slice(firstAbove(places, b - reach), firstFrom(places, b + reach));
    const time = localLine(near, b, smoothBeats) ?? localLine(near, b, reach);
    if (time !== null) beats.push({ index: b, time });
  }
  return beats;
}

/** Distance of beats in the middle of the song, s. */
export const usualBeat = (beats: readonly number[]): number =>
  median(beats.slice(1).map((t, i) => t - beats[i]!));
