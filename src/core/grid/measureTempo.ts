import { firstAbove } from "../signal/ascending";
import { isShell, type Hit, type MeterChange, type Tempo } from "../song/song";
import { findFirstBeat } from "./firstBeat";
import { fitSteady, followBeats, spreadAround, usualBeat, type Instants, type SteadyFit } from "./fitBeats";
import { likelyRuns, type TempoRun } from "./likelyTempo";
import { pulse, weightOf } from "./pulse";
import { plainTempo } from "./steadyTempo";

/** Without a main stroke for longer, what comes next is another piece of music, s. */
const longPause = 6;
/** Strokes from which a piece of music has a tempo. */
const fewest = 6;
/** How much nearer to the strokes beats that follow must be, and how far from steady ones, to be taken. */
const followGain = 0.9;
const followFrom = 0.012;
/** Main strokes in a row, and the share of them that must lie near the grid, where the music begins. */
const openingStrokes = 8;
const openingShare = 0.5;
const nearLine = 0.17;
/** Around where a pulse that is followed begins: s to both sides, and the share by which its tempo may differ from the run's. */
const nearby = 10;
const wander = 0.05;
/** Share by which a run's guessed tempo may be off. */
const guessError = 0.006;

/** Beats of one stretch of music. */
interface Stretch {
  readonly beats: number[];
  readonly pickUp: number;
  readonly beatsPerBar: number;
  readonly compound: boolean;
  readonly follows: boolean;
}

export interface TempoOptions {
  /** Beats to the bar, when they are known. */
  readonly beatsPerBar?: number | undefined;
  /** A steady tempo that is known; only its beats are looked for. */
  readonly bpm?: number | undefined;
  /** Whether beats may follow the playing; by default where it is clearly better. */
  readonly follow?: "never" | "always" | undefined;
}

const partsOf = (compound: boolean): number => (compound ? 6 : 4);
const instantsOf = (hits: readonly Hit[]): Instants => ({
  times: hits.map((h) => h.time),
  weights: hits.map(weightOf),
});

/**
 * Strokes from where they begin to keep the pulse on: a free opening before the count says nothing about the beats.
 * Shape   `keeps` tells whether an instant lies near a part of the beat.
 */
function withoutFreeOpening(hits: readonly Hit[], keeps: (t: number) => boolean): readonly Hit[] {
  const mains = hits.filter((h) => isShell(h.piece) && !h.ghost && h.kind !== "grace");
  const fits = mains.map((h) => keeps(h.time));
  const share = (from: number, n: number) => fits.slice(from, from + n).filter(Boolean).length / n;
  // A loose player is often off the grid: an opening is free only where it is much more so than the rest.
  const usual = share(0, mains.length);
  if (mains.length < 2 * openingStrokes || share(0, openingStrokes) >= openingShare * usual) return hits;
  for (let i = 1; i + openingStrokes <= mains.length; i++)
    if (fits[i] && share(i, openingStrokes) >= 0.99)
      return i < 0.5 * mains.length ? hits.filter((h) => h.time > mains[i]!.time - 0.03) : hits;
  return hits;
}

/** Parts of a beat near an instant, for a pulse that is followed from there: the strongest around the run's tempo. */
function fitNear(x: Instants, around: number, guess: number): SteadyFit {
  const near = x.times
    .map((t, k) => [t, x.weights[k]!] as const)
    .filter(([t]) => Math.abs(t - around) < nearby);
  const local = { times: near.map(([t]) => t), weights: near.map(([, w]) => w) };
  let best = { period: guess, offset: 0, strength: -1 };
  for (let r = 1 - wander; r <= 1 + wander; r += 0.0025) {
    const period = guess * r;
    const { strength, offset } = pulse(local.times, local.weights, 1 / period);
    if (strength > best.strength) best = { period, offset, strength };
  }
  return fitSteady(local, best);
}

/** Parts near a guess that hold over all strokes: a guess is only as fine as the windows it was made in. */
function sharpened({ times, weights }: Instants, guess: number): SteadyFit {
  const span = Math.max(5, times[times.length - 1]! - times[0]!);
  const step = (0.2 * guess) / span;
  const count = Math.min(400, Math.ceil(guessError / step));
  let best = { period: guess, offset: 0, strength: -1 };
  for (let n = -count; n <= count; n++) {
    const period = guess * (1 + n * step);
    const { strength, offset } = pulse(times, weights, 1 / period);
    if (strength > best.strength) best = { period, offset, strength };
  }
  return best;
}

/** Where a pulse that is followed may begin, shares of the strokes. */
const anchors = [0.5, 0.3, 0.7, 0.15, 0.85];
/** Distance from a part beyond which a stroke counts as this far, s. */
const farOff = 0.03;

/** Followed beats from the beginning that explains the strokes best: a pulse that got lost lies far from many of them. */
function bestFollowed(x: Instants, guess: number, perBeat: number): NumberedBeats {
  let best = { beats: new NumberedBeats([]), cost: Infinity };
  for (const share of anchors) {
    const anchor = x.times[Math.floor(share * (x.times.length - 1))]!;
    const beats = new NumberedBeats(followBeats(x, fitNear(x, anchor, guess), perBeat, anchor));
    if (beats.length < 2) continue;
    let [cost, total] = [0, 0];
    x.times.forEach((t, k) => {
      const place = beats.placeOf(t) * perBeat;
      const off = t - beats.timeOf(Math.round(place) / perBeat);
      cost += x.weights[k]! * Math.min(farOff, Math.abs(off)) ** 2;
      total += x.weights[k]!;
    });
    if (cost / total < best.cost) best = { beats, cost: cost / total };
  }
  return best.beats;
}

/** Fits beats to the strokes of one run. */
function fitRun(all: readonly Hit[], run: TempoRun, options: TempoOptions, end: number): Stretch {
  const { compound } = run;
  const perBeat = partsOf(compound);
  const beatsPerBar = options.beatsPerBar ?? (compound ? 2 : 4);
  const clear = all.filter((h) => !h.ghost || all.length < 40);
  const guess = 60 / (options.bpm ?? run.bpm) / perBeat;
  const whole = instantsOf(clear);
  const mayFollow = options.bpm === undefined && options.follow !== "never";
  const followed = mayFollow ? bestFollowed(whole, guess, perBeat) : new NumberedBeats([]);
  const followable = followed.length > 8;
  const followedPlace = (t: number): number => followed.placeOf(t) * perBeat;
  const near = (place: number) => Math.abs(place - Math.round(place)) < nearLine;
  let fit = fitSteady(whole, sharpened(whole, guess));
  const steadyLine = (t: number) => fit.offset + Math.round((t - fit.offset) / fit.period) * fit.period;
  const line = (t: number) => (followable ? followed.timeOf(Math.round(followedPlace(t)) / perBeat) : t);
  // Judged in the middle of the playing: an opening or an ending may be free.
  const inner = instantsOf(clear.slice(clear.length >> 2, clear.length - (clear.length >> 2)));
  const away = inner.times.reduce((most, t) => Math.max(most, Math.abs(line(t) - steadyLine(t))), 0);
  const follows =
    followable &&
    (options.follow === "always" ||
      (away > followFrom && spreadAround(inner, line) < followGain * spreadAround(inner, steadyLine)));
  const hits = withoutFreeOpening(clear, (t) =>
    near(follows ? followedPlace(t) : (t - fit.offset) / fit.period),
  );
  const x = instantsOf(hits);
  if (hits !== clear) fit = fitSteady(x, sharpened(x, guess));
  if (options.bpm !== undefined) fit = steadyAt(x, guess);
  const beat = perBeat * fit.period;
  const beatOf = (t: number): number => (follows ? followed.placeOf(t) : (t - fit.offset) / beat);
  const { first, pickUp } = findFirstBeat(hits, beatOf, perBeat, beatsPerBar);
  const beats: number[] = [];
  for (let i = first; ; i++) {
    const t = follows ? followed.timeOf(i) : fit.offset + i * beat;
    if (t >= end) break;
    beats.push(t);
  }
  return { beats, pickUp, beatsPerBar, compound, follows };
}

/** Parts of a known length where the strokes want them: the middle of their phases, outliers left out. */
function steadyAt(x: Instants, period: number): SteadyFit {
  let { offset } = pulse(x.times, x.weights, 1 / period);
  for (let round = 0; round < 4; round++) {
    let sum = 0;
    let total = 0;
    x.times.forEach((t, k) => {
      const off = t - offset - Math.round((t - offset) / period) * period;
      const w = Math.abs(off) > 0.3 * period ? 0 : x.weights[k]!;
      sum += w * off;
      total += w;
    });
    offset += total > 0 ? sum / total : 0;
  }
  return { period, offset };
}

/** Numbered beats, which go on at both ends with their last distance. */
class NumberedBeats {
  readonly length: number;
  private readonly places: Float64Array;
  private readonly times: Float64Array;
  constructor(beats: readonly { readonly index: number; readonly time: number }[]) {
    this.length = beats.length;
    this.places = Float64Array.from(beats, (b) => b.index);
    this.times = Float64Array.from(beats, (b) => b.time);
  }
  /** Place of an instant among them. */
  placeOf(time: number): number {
    return this.between(this.times, this.places, time);
  }
  /** Instant of a place among them. */
  timeOf(place: number): number {
    return this.between(this.places, this.times, place);
  }
  private between(from: Float64Array, to: Float64Array, x: number): number {
    const i = Math.max(0, Math.min(this.length - 2, firstAbove(from, x) - 1));
    return to[i]! + ((to[i + 1]! - to[i]!) * (x - from[i]!)) / (from[i + 1]! - from[i]!);
  }
}

/** Strokes of pieces of music that long pauses part. */
function piecesOfMusic(hits: readonly Hit[]): Hit[][] {
  const list: Hit[][] = [];
  let last = -Infinity;
  for (const h of hits) {
    if (h.time - last > longPause) list.push([]);
    list[list.length - 1]!.push(h);
    if (!h.ghost) last = h.time;
  }
  return list.filter((l) => l.length >= fewest);
}

/**
 * Measures tempo, meter and every beat from the strokes: steady where the playing is, following it where it drifts, anew
 * where it changes or after a long pause.
 * Returns null when fewer than six strokes are there. Range 60 to 200 bpm, in compound meters 40 to 150 dotted quarters;
 * beat one by kicks on 1 and 3, snares on 2 and 4. Half or double tempo is settled by the backbeat and by how usual a
 * tempo is.
 */
export function measureTempo(
  hits: readonly Hit[],
  durationSeconds: number,
  options: TempoOptions = {},
): Tempo | null {
  const sorted = [...hits].sort((a, b) => a.time - b.time);
  const music = piecesOfMusic(sorted);
  if (music.length === 0) return null;
  const runs = music.flatMap((list): { run: TempoRun; hits: Hit[] }[] => {
    const found = options.bpm === undefined ? likelyRuns(list) : null;
    const whole = { from: list[0]!.time, to: list[list.length - 1]!.time };
    const given = found ?? [{ ...whole, bpm: options.bpm!, compound: likelyRuns(list)[0]!.compound }];
    return given.map((run, i) => ({
      run,
      hits: list.filter(
        (h) => (i === 0 || h.time >= run.from) && (i === given.length - 1 || h.time < run.to),
      ),
    }));
  });
  const usable = runs.filter((r) => r.hits.length >= fewest);
  if (usable.length === 0) return null;
  const stretches = usable.map((r, i) => {
    const next = usable[i + 1];
    return fitRun(
      r.hits,
      r.run,
      options,
      next ? next.hits[0]!.time - 0.3 * (60 / next.run.bpm) : durationSeconds,
    );
  });
  const main = stretches.reduce((a, b) => (b.beats.length > a.beats.length ? b : a));
  const beats: number[] = [];
  const meters: MeterChange[] = [];
  stretches.forEach(({ beats: more, beatsPerBar, compound, pickUp }, i) => {
    if (i > 0) meters.push({ beat: beats.length + pickUp, beatsPerBar, compound });
    beats.push(...more);
  });
  if (beats.length < 2) return null;
  const opening = stretches[0]!;
  return {
    ...plainTempo,
    bpm: 60 / usualBeat(main.beats.length > 1 ? main.beats : beats),
    firstBeat: beats[0]!,
    beatsPerBar: opening.beatsPerBar,
    compound: opening.compound,
    pickUp: opening.pickUp,
    meters,
    follows: stretches.some((s) => s.follows),
    beats,
  };
}
