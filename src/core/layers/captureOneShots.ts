import { anyBetween, firstAbove } from "../signal/ascending";
import { spreadOver } from "../hits/snippets";
import { bandPower, powerOfTwo, RealFft } from "../signal/fft";
import { dbToGain, gainToDb, median, peakOf, powerOf, powerToDb, quantile } from "../signal/level";
import type { Hit, Piece } from "../song/song";

/** A stroke that was cut out of a recording. */
export interface CapturedShot {
  /** The stroke, s from the beginning of what was given. */
  readonly time: number;
  /** [channel]. */
  readonly audio: readonly Float32Array[];
  /** Frames before its transient. */
  readonly onset: number;
  /** Peak, dBFS. */
  readonly levelDb: number;
  /** How far what bleeds in lies under its first 100 ms by what is known of the others' strokes, dB. */
  readonly cleanDb: number;
  readonly ghost: boolean;
}

/** What lies before the transient of a sound, s, and how quickly it comes in. */
const leadSeconds = 0.005;
/** Longest sound, and least to the next stroke, s. */
const longestSeconds = 1.2;
const leastSeconds = 0.12;
/** The part by which cleanness is told, s. */
const judgedSeconds = 0.1;
/** So long after a stroke of any drum nothing of it is heard that counts, s. */
const quietAfter = 0.6;
/** Sounds that are offered. */
const usualCount = 5;
/** Strokes this far under the usual one are no candidates, dB. */
const softest = 12;

/**
 * The cleanest strokes of a drum in one of its mics, cut and faded, the cleanest first: those that are struck most alone. What bleeds in is
 * told by the other mics, and by what this one hears where all is quiet.
 * Shape  mic [channel][frame]; others: mics of other drums and far ones, a channel each; hits of all drums, s on their time line; at most
 *        `count`.
 * Errors  RangeError when the drum has no stroke that stands alone for 0.12 s.
 */
export function captureOneShots(
  mic: readonly Float32Array[],
  others: readonly Float32Array[],
  hits: readonly Hit[],
  drum: Piece,
  sampleRate: number,
  { count = usualCount, ghosts = false }: { count?: number; ghosts?: boolean } = {},
): CapturedShot[] {
  const x = mic[0]!;
  const seconds = x.length / sampleRate;
  const own = hits.filter((h) => h.piece === drum).sort((a, b) => a.time - b.time);
  const strokes = own.filter((h) => h.ghost === ghosts && h.kind === "stroke");
  const ownTimes = own.map((h) => h.time);
  const otherTimes = hits
    .filter((h) => h.piece !== drum)
    .map((h) => h.time)
    .sort((a, b) => a - b);
  const floor = floorOf(x, hits, sampleRate);
  const judged = Math.round(judgedSeconds * sampleRate);
  const usual = strokes.length > 0 ? median(strokes.map((h) => h.levelDb)) : 0;
  const beyond = heardElsewhere(x, others, strokes, restingTimes(hits, ownTimes, drum), sampleRate);
  const candidates = strokes.flatMap((h, i): CapturedShot[] => {
    const next = ownTimes[firstAbove(ownTimes, h.time + 0.001)] ?? Infinity;
    const length = Math.min(longestSeconds, next - h.time - 2 * leadSeconds, seconds - h.time);
    if (length < leastSeconds || h.time < leadSeconds || h.levelDb < usual - softest) return [];
    const before = ownTimes.filter((t) => t < h.time && h.time - t < leastSeconds);
    if (before.length > 0) return [];
    const at = Math.round(h.time * sampleRate);
    const bleed = beyond[i]! / judged + floor;
    const whole = powerOf(x, at, at + judged);
    const cleanDb = powerToDb(Math.max(1e-12, whole - bleed)) - powerToDb(Math.max(1e-20, bleed));
    const end = endOf(x, h, length, otherTimes, sampleRate);
    return [{ ...cut(mic, h, end, sampleRate), cleanDb: Math.min(60, cleanDb) }];
  });
  if (candidates.length === 0)
    throw new RangeError(
      `no ${ghosts ? "ghost note" : "stroke"} of the drum stands alone for ${leastSeconds} s; nothing can be captured`,
    );
  return candidates.sort((a, b) => b.cleanDb - a.cleanDb).slice(0, count);
}

/** Bands in which what bleeds in is told, Hz. */
const bandEdges = [0, 120, 250, 500, 1000, 2000, 4000, 8000, 24000];
/** Share of the strokes that have less in another mic than is held to be the drum itself there. */
const aloneShare = 0.1;
/** Strokes of other drums by which a mic is told how it hears what another mic hears. */
const comparedStrokes = 60;

/** Energy of 100 ms from each instant on, by band. Shape  result [instant][band]. */
function bandEnergies(x: Float32Array, times: readonly number[], sampleRate: number): number[][] {
  const part = Math.round(judgedSeconds * sampleRate);
  const size = powerOfTwo(part);
  const fft = RealFft.of(size);
  const spectrum = fft.spectrum();
  const edges = bandEdges.map((f) => Math.min(size / 2, Math.round((f * size) / sampleRate)));
  return times.map((time) => {
    fft.forward(x, Math.round(time * sampleRate), part, spectrum);
    return edges.slice(1).map((to, b) => (2 * bandPower(spectrum, edges[b]!, to)) / size);
  });
}

/**
 * Energy that bleeds into each stroke's first 100 ms, as the other mics tell it: what they hear beyond what they hear of the drum where it
 * is struck most alone, brought to this mic as it hears what they hear while the drum rests. Whoever is struck, found or not, is in it.
 * Shape  result [stroke].
 */
function heardElsewhere(
  x: Float32Array,
  others: readonly Float32Array[],
  strokes: readonly Hit[],
  resting: readonly number[],
  sampleRate: number,
): number[] {
  const times = strokes.map((h) => h.time);
  const loud = strokes.map((h) => 10 ** (h.levelDb / 10));
  const here = bandEnergies(x, resting, sampleRate);
  const bands = bandEdges.length - 1;
  const sums = strokes.map(() => new Float64Array(bands));
  const weights = new Float64Array(bands);
  if (resting.length < 4) return strokes.map(() => 0);
  for (const other of others) {
    const there = bandEnergies(other, resting, sampleRate);
    const struck = bandEnergies(other, times, sampleRate);
    for (let b = 0; b < bands; b++) {
      const ratios = there.map((e, i) => gainToDb(Math.sqrt((here[i]![b]! + 1e-14) / (e[b]! + 1e-14))));
      const ratio = median(ratios);
      // A mic that hears the same as this one tells more than one whose answer changes from stroke to stroke.
      const spread = quantile(ratios, 0.8) - quantile(ratios, 0.2);
      const weight = 1 / (1 + spread) ** 2;
      const own = quantile(
        struck.map((e, i) => e[b]! / loud[i]!),
        aloneShare,
      );
      struck.forEach(
        (e, i) => (sums[i]![b]! += weight * dbToGain(2 * ratio) * Math.max(0, e[b]! - own * loud[i]!)),
      );
      weights[b]! += weight;
    }
  }
  return sums.map((bandSums) =>
    bandSums.reduce((sum, v, b) => sum + (weights[b]! > 0 ? v / weights[b]! : 0), 0),
  );
}

/** How long the drum has been at rest where another mic is compared with its own, s: the longest that is found often enough. */
const rests = [0.35, 0.25, 0.15];
const enoughTimes = 8;

/** Instants at which something else is struck while the drum rests, spread over the song. */
function restingTimes(hits: readonly Hit[], own: readonly number[], drum: Piece): number[] {
  const others = hits.filter((h) => h.piece !== drum).map((h) => h.time);
  const after = (rest: number) =>
    others.filter((time) => !anyBetween(own, time - rest, time + judgedSeconds));
  const found = rests.map(after).find((times) => times.length >= enoughTimes) ?? after(rests.at(-1)!);
  return spreadOver(found, comparedStrokes);
}

/** Mean power of what is heard where nothing was struck for long; of the quietest tenth where that never happens. */
function floorOf(x: Float32Array, hits: readonly Hit[], sampleRate: number): number {
  const step = Math.round(0.05 * sampleRate);
  const times = hits.map((h) => h.time).sort((a, b) => a - b);
  const powers: number[] = [];
  const quiet: number[] = [];
  let next = 0;
  for (let at = 0; at + step <= x.length; at += step) {
    const power = powerOf(x, at, at + step);
    powers.push(power);
    while (next < times.length && times[next]! * sampleRate < at + step) next++;
    const last = next > 0 ? times[next - 1]! : -Infinity;
    if (at / sampleRate - last > quietAfter) quiet.push(power);
  }
  if (quiet.length >= 4) return median(quiet);
  powers.sort((a, b) => a - b);
  return powers[Math.floor(powers.length / 10)] ?? 0;
}

/** Where a stroke ends, s: at most `most`, and before another drum's stroke by which the mic becomes louder again. */
function endOf(x: Float32Array, h: Hit, most: number, others: readonly number[], sampleRate: number): number {
  const step = Math.round(0.01 * sampleRate);
  const power = (at: number) => powerOf(x, at, at + step);
  const louder = others.find((time) => {
    if (time < h.time + leastSeconds || time > h.time + most) return false;
    const at = Math.round(time * sampleRate);
    return power(at) > 1.6 * power(at - 2 * step);
  });
  return louder === undefined ? most : louder - h.time - 0.002;
}

/** Cuts a stroke out: in within 5 ms before its transient, out over its last part. */
function cut(
  mic: readonly Float32Array[],
  { time, ghost }: Hit,
  length: number,
  sampleRate: number,
): Omit<CapturedShot, "cleanDb"> {
  const lead = Math.round(leadSeconds * sampleRate);
  const from = Math.round(time * sampleRate) - lead;
  const frames = lead + Math.round(length * sampleRate);
  const out = Math.min(Math.round(0.4 * frames), Math.round(0.15 * sampleRate));
  const audio = mic.map((channel) => {
    const y = channel.slice(Math.max(0, from), from + frames);
    for (let i = 0; i < lead && i < y.length; i++) y[i]! *= fadeAt(i / lead);
    for (let i = 0; i < out && i < y.length; i++) y[y.length - 1 - i]! *= fadeAt(i / out);
    return y;
  });
  return { time, audio, onset: lead, levelDb: gainToDb(Math.max(...audio.map((y) => peakOf(y)))), ghost };
}
const fadeAt = (share: number): number => 0.5 - 0.5 * Math.cos(Math.PI * share);
