// Scores an analysis against what is true of a session: labels, delays, strokes, beats, and how sure each was.
import type { KitAnalysis } from "../src/core/analysis/analysed";
import { matched } from "../demo/score";
import type { MicTruth, SessionTruth } from "./worlds/truth";

/** Right of all; what is pooled is the counts. */
export type Share = [right: number, all: number];
/** What was told with a certain sureness, and how much of that was right, by tenths of sureness. */
export type Reliability = { told: number; sure: number; right: number }[];
export const emptyReliability = (): Reliability =>
  Array.from({ length: 10 }, () => ({ told: 0, sure: 0, right: 0 }));

export interface Score {
  shares: Map<string, Share>;
  /** Values of which a median and a worst are told. */
  values: Map<string, number[]>;
  reliability: Map<string, Reliability>;
}
export const emptyScore = (): Score => ({ shares: new Map(), values: new Map(), reliability: new Map() });

const count = (s: Score, name: string, right: boolean | number, all = 1): void => {
  const share = s.shares.get(name) ?? s.shares.set(name, [0, 0]).get(name)!;
  share[0] += Number(right);
  share[1] += all;
};
const note = (s: Score, name: string, value: number): void => {
  (s.values.get(name) ?? s.values.set(name, []).get(name)!).push(value);
};
const trust = (s: Score, name: string, sure: number, right: boolean): void => {
  const list = s.reliability.get(name) ?? s.reliability.set(name, emptyReliability()).get(name)!;
  const heap = list[Math.min(9, Math.floor(10 * sure))]!;
  heap.told++;
  heap.sure += sure;
  heap.right += Number(right);
};

/** A tom that the file's name numbers is right with that number. */
const samePiece = (t: MicTruth, said: string, toms: number): boolean =>
  t.piece === said ||
  (t.piece === "floor" &&
    said === `tom${toms}` &&
    new RegExp(`(^|[^a-z])t(om)?[ _-]?${toms}(?![0-9])`, "i").test(t.file));

function scoreLabels(s: Score, truth: SessionTruth, a: KitAnalysis, named: boolean): void {
  const toms = new Set(truth.mics.filter((m) => /^tom|floor/.test(m.piece)).map((m) => m.piece)).size;
  for (const t of truth.mics) {
    const m = a.mics.find((x) => x.file === t.file);
    if (!m || t.silent) continue;
    const right = samePiece(t, m.piece, toms);
    count(s, named ? "piece from the name" : "piece from sound alone", right);
    if (named) count(s, "piece and place from the name", right && m.place === t.place);
    else trust(s, "labels from sound", m.sure, right);
    count(s, "never-played mics told, none wrongly", m.unplayed === t.unplayed);
  }
}

function scoreTiming(s: Score, truth: SessionTruth, a: KitAnalysis): void {
  for (const piece of ["kick", "snare"]) {
    for (const m of a.mics) {
      const t = truth.mics.find((x) => x.file === m.file);
      const base = truth.mics.find((x) => x.file === m.reference);
      if (
        !t ||
        !base ||
        t.piece !== piece ||
        base.piece !== piece ||
        t.place === "sub" ||
        base.place === "sub"
      )
        continue;
      count(s, "polarity of same-drum mics", m.polarity === t.polarity * base.polarity);
      const off = (key: "delaySamples" | "alignSamples") => Math.abs(m.delaySamples - (t[key] - base[key]));
      note(s, "their delay, frames", Math.min(off("delaySamples"), off("alignSamples")));
    }
  }
  for (const x of a.arrivals) {
    const t = truth.arrivals.find((y) => y.piece === x.piece && y.mic === x.mic && y.channel === x.channel);
    const far = truth.mics.find((m) => m.file === x.mic);
    if (!t || far?.piece !== "overhead" || !["kick", "snare", "tom1", "tom2", "floor"].includes(x.piece))
      continue;
    count(s, "drums to overheads: polarity", x.polarity === t.polarity);
    note(
      s,
      "drums to overheads: delay, frames",
      Math.min(Math.abs(x.delaySamples - t.delaySamples), Math.abs(x.delaySamples - t.alignSamples)),
    );
  }
}

const drums = ["kick", "snare", "tom1", "tom2", "floor"];

function scoreHits(s: Score, truth: SessionTruth, a: KitAnalysis): void {
  // A wrong tom label is a mistake in labels alone: strokes follow the files.
  const own = new Map(
    Object.entries(truth.main)
      .filter(([, m]) => m.close)
      .map(([piece, m]) => [a.mics.find((x) => x.file === m.mic)?.piece ?? piece, piece]),
  );
  const hits = a.hits.map((h) => ({
    ...h,
    piece: /^tom|floor/.test(h.piece) ? (own.get(h.piece) ?? h.piece) : h.piece,
  }));
  for (const piece of new Set([
    ...truth.strokes.map((x) => x.piece),
    ...hits.map((h) => h.piece as string),
  ])) {
    const strokes = truth.strokes.filter((x) => x.piece === piece);
    const found = hits.filter((h) => h.piece === piece);
    const close = Boolean(truth.main[piece]?.close);
    const shell = drums.includes(piece);
    const pairs = matched(
      strokes.map((x) => x.timeSeconds),
      found.map((h) => h.time),
      shell ? 0.005 : 0.02,
    );
    const loose = matched(
      strokes.map((x) => x.timeSeconds),
      found.map((h) => h.time),
      0.02,
    );
    const usedLoose = new Set(loose.map(([, j]) => j));
    found.forEach((h, j) =>
      trust(s, shell ? "strokes of shells" : "strokes of cymbals", h.sure, usedLoose.has(j)),
    );
    const mains = strokes.filter((x) => !x.ghost).length;
    const name = shell
      ? `main strokes F at 5 ms: ${piece}`
      : `${piece}${close ? "" : " without a mic"}, F at 20 ms`;
    const right = pairs.filter(([i]) => !strokes[i]!.ghost).length;
    const used = new Set(pairs.map(([, j]) => j));
    const wrong = found.filter((h, j) => !h.ghost && !used.has(j)).length;
    if (mains + wrong > 0) count(s, name, 2 * right, mains + right + wrong);
    for (const [i, j] of pairs)
      if (shell) note(s, "timing, ms", 1000 * Math.abs(found[j]!.time - strokes[i]!.timeSeconds));
    if (!shell) continue;
    const ghosts = strokes.filter((x) => x.ghost).length;
    const ghostsRight = loose.filter(([i]) => strokes[i]!.ghost).length;
    const ghostsWrong = found.filter((h, j) => h.ghost && !usedLoose.has(j)).length;
    if (ghosts + ghostsWrong > 0)
      count(s, "ghost notes F at 20 ms", 2 * ghostsRight, ghosts + ghostsRight + ghostsWrong);
  }
}

function scoreBeats(s: Score, truth: SessionTruth, a: KitAnalysis): void {
  const times = truth.strokes.map((x) => x.timeSeconds);
  const [from, to] = [Math.min(...times) - 0.1, Math.max(...times) + 0.1];
  const readings = [{ bpm: truth.tempo.bpm, beatsPerTrueBeat: 1 }, ...truth.tempo.alternatives];
  const bpm = a.tempo?.bpm ?? 1;
  const reading = readings.reduce((x, y) =>
    Math.abs(Math.log(bpm / y.bpm)) < Math.abs(Math.log(bpm / x.bpm)) ? y : x,
  );
  const played = truth.tempo.grid.beats.filter((b) => b > from && b < to);
  const step = 1 / reading.beatsPerTrueBeat;
  let [right, all] = [0, 0];
  for (let x = 0; x <= played.length - 1 + 1e-9; x += step) {
    const i = Math.min(played.length - 2, Math.floor(x));
    const b = played[i]! + (x - i) * (played[i + 1]! - played[i]!);
    all++;
    if (a.tempo?.beats.some((y) => Math.abs(y - b) < 0.02)) right++;
  }
  count(s, "beats within 20 ms", right, all);
  if (truth.tempo.drift === 0) note(s, "tempo error, %", 100 * Math.abs(bpm / reading.bpm - 1));
}

/** Adds what an analysis got right and wrong to a score. `named`: the files have names that say something. */
export function scoreAnalysis(into: Score, truth: SessionTruth, analysis: KitAnalysis, named: boolean): void {
  scoreLabels(into, truth, analysis, named);
  scoreTiming(into, truth, analysis);
  scoreHits(into, truth, analysis);
  scoreBeats(into, truth, analysis);
}
