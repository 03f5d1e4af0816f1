import type { Hit } from "../song/song";
import { PulseScan, weightOf } from "./pulse";

/** A tempo that may be played: beats a minute, and whether a beat has three eighths. */
export interface TempoGuess {
  readonly bpm: number;
  readonly compound: boolean;
}

/** A stretch of the playing in which one tempo holds, s. */
export interface TempoRun extends TempoGuess {
  readonly from: number;
  readonly to: number;
}

/** Tempi that are looked for: quarters, and dotted quarters of a compound meter. */
const ranges = { simple: [60, 200], compound: [40, 150] } as const;
const step = 0.4; // bpm
/** How usual a tempo is: a bell over its logarithm (common practice, no source). */
const usual = (bpm: number, compound: boolean): number =>
  0.35 + 0.65 * Math.exp(-0.5 * (Math.log2(bpm / (compound ? 72 : 112)) / 0.75) ** 2);
/** What speaks for a compound meter must be clear: it is the rarer one. */
const compoundTax = 0.88;
/** Windows over which the playing is compared with a pulse, s. */
const window = 24;
const hop = 8;
/** A tempo may wander by this share within the song and is still the same. */
const wander = 0.03;
/** What another tempo must be better by, summed over windows, to be taken for a change. */
const changeCost = 1.2;

const guesses: readonly TempoGuess[] = [false, true].flatMap((compound) => {
  const [low, high] = compound ? ranges.compound : ranges.simple;
  const count = Math.floor((high - low) / step) + 1;
  return Array.from({ length: count }, (_, n) => ({ bpm: low + n * step, compound }));
});

/**
 * How well every guess fits some strokes: their pulse on the finest parts of the beat, on its halves or thirds and on
 * the beats, and a backbeat: a snare every
 * second beat, not on the kicks.
 */
function scores(hits: readonly Hit[]): Float64Array {
  const times = hits.map((h) => h.time);
  const weights = hits.map(weightOf);
  const main = (piece: string) =>
    hits.filter((h) => h.piece === piece && !h.ghost && h.kind !== "grace").map((h) => h.time);
  const [snares, kicks] = [main("snare"), main("kick")];
  const gaps = snares.slice(1).map((t, i) => t - snares[i]!);
  /** Share of the snare's strokes that follow one another after two beats. */
  const everyTwo = (bpm: number): number =>
    gaps.length < 2 ? 0 : gaps.filter((g) => Math.abs((g * bpm) / 60 - 2) < 0.16).length / gaps.length;
  const result = new Float64Array(guesses.length);
  let at = 0;
  for (const compound of [false, true]) {
    const [low, high] = compound ? ranges.compound : ranges.simple;
    const scan = (list: readonly number[], w: readonly number[], perBeat: number) =>
      new PulseScan(list, w, (perBeat * low) / 60, (perBeat * step) / 60);
    const ones = (list: readonly number[]) => list.map(() => 1);
    const finest = scan(times, weights, compound ? 6 : 4);
    const parts = scan(times, weights, compound ? 3 : 2);
    const beat = scan(times, weights, 1);
    const back = scan(snares, ones(snares), 0.5);
    const front = scan(kicks, ones(kicks), 0.5);
    const count = Math.floor((high - low) / step) + 1;
    for (let n = 0; n < count; n++, at++) {
      const bpm = low + n * step;
      const [b, f] = [back.next(), front.next()];
      // Kicks that always fall on the snare's strokes are no kicks on 1 and 3.
      const together = f.strength * Math.max(0, Math.cos((Math.PI * bpm * (b.offset - f.offset)) / 60));
      const [fine, half] = [finest.next().strength, parts.next().strength];
      // Sixths alone do not make a beat compound: halves lie on them too.
      const divided = compound ? 1.2 * half + 0.7 * Math.min(half, fine) : 1.2 * fine + 0.7 * half;
      result[at] =
        (divided +
          0.5 * beat.next().strength +
          1.5 * (0.5 + 0.5 * b.strength) * everyTwo(bpm) * (1 - together)) *
        usual(bpm, compound) *
        (compound ? compoundTax : 1);
    }
  }
  return result;
}

/** Best score of a guess's neighbours within the share by which a tempo wanders. */
function widened(s: Float64Array): Float64Array {
  return s.map((_, i) => {
    const { bpm, compound } = guesses[i]!;
    const reach = Math.ceil((wander * bpm) / step);
    let best = 0;
    for (let k = Math.max(0, i - reach); k <= Math.min(s.length - 1, i + reach); k++)
      if (guesses[k]!.compound === compound) best = Math.max(best, s[k]!);
    return best;
  });
}

/**
 * The tempi of a stretch of playing: one, unless the strokes say clearly that it changes.
 * Shape   strokes ascending, at least six. Each run's tempo is a guess to be fitted, within 0.4 bpm where it is steady.
 * Source  best path through guesses by dynamic programming: Bellman 1957.
 */
export function likelyRuns(hits: readonly Hit[]): TempoRun[] {
  const first = hits[0]!.time;
  const last = hits[hits.length - 1]!.time;
  const starts: number[] = [];
  for (let t = first; t < Math.max(last - window + hop, first + 0.001); t += hop) starts.push(t);
  const windows = starts
    .map((from) => hits.filter((h) => h.time >= from && h.time < from + window))
    .map((list, i) => ({ from: starts[i]!, list }))
    .filter(({ list }) => list.length >= 6);
  if (windows.length === 0) windows.push({ from: first, list: [...hits] });
  const raw = windows.map(({ list }) => scores(list));
  const wide = raw.map(widened);
  const n = guesses.length;
  const sums = new Float64Array(n);
  const back: Int32Array[] = [];
  for (const w of wide) {
    let best = 0;
    for (let i = 1; i < n; i++) if (sums[i]! > sums[best]!) best = i;
    const from = new Int32Array(n);
    const jump = sums[best]! - changeCost;
    for (let i = 0; i < n; i++) {
      from[i] = sums[i]! >= jump ? i : best;
      sums[i] = Math.max(sums[i]!, jump) + w[i]!;
    }
    back.push(from);
  }
  let at = sums.indexOf(Math.max(...sums));
  const path = new Array<number>(windows.length);
  for (let w = windows.length - 1; w >= 0; w--) {
    path[w] = at;
    at = back[w]![at]!;
  }
  const runs: { from: number; to: number; windows: number[]; guess: TempoGuess }[] = [];
  path.forEach((g, w) => {
    const run = runs[runs.length - 1];
    const guess = guesses[g]!;
    if (run && run.guess === guess) run.windows.push(w);
    else {
      // A change lies somewhere in the overlap of two windows: halfway until strokes say better.
      const from = run ? windows[w]!.from + 0.5 * (window - hop) : first;
      if (run) run.to = from;
      runs.push({ from, to: last, windows: [w], guess });
    }
  });
  return runs.map(({ from, to, windows: of, guess }) => {
    const around = guesses
      .map((g, i) => ({ g, i }))
      .filter(({ g }) => g.compound === guess.compound && Math.abs(g.bpm / guess.bpm - 1) <= wander + 0.005);
    const sum = (i: number) => of.reduce((total, w) => total + raw[w]![i]!, 0);
    const best = around.reduce((a, b) => (sum(b.i) > sum(a.i) ? b : a));
    return { from, to, bpm: best.g.bpm, compound: guess.compound };
  });
}
