import { firstFrom } from "../../signal/ascending";
import { isShell, type Piece } from "../../song/song";
import { bands, energiesHere } from "../bandEnergies";
import { isCymbal } from "../ownBands";
import { bestMean, decibels, type Explained, type Source } from "./explained";
import { ringing, ringNames } from "./ringing";
import { markStanding } from "./standing";

/** What speaks for and against a stroke at an instant, in the order of the values. */
export const featureNames = [
  "level",
  "loudness",
  "excess",
  "over0",
  "over1",
  "over2",
  "over3",
  "over4",
  "over5",
  "best3",
  "fourth",
  "share",
  "gainOwn",
  "gainOther",
  "misfit",
  "before",
  "lately",
  "behind",
  "lead",
  "kick",
  "snare",
  "toms",
  "cymbals",
  "inOverheads",
  "second",
  "fresh",
  "rhythm",
  "alone",
  ...ringNames,
  "standsOut",
  "bestStandsOut",
  "gainStandsOut",
] as const;
export const featureCount = featureNames.length;
/** Values of which it is told how far they stand out, and where that is written. */
export const standing = (["excess", "best3", "gainOwn"] as const).map((name, n) => ({
  from: featureNames.indexOf(name),
  into: featureNames.indexOf("standsOut") + n,
}));
const rhythmAt = featureNames.indexOf("rhythm");

const clip = (x: number, low: number, high: number): number =>
  Math.min(high, Math.max(low, Number.isFinite(x) ? x : low));

/** Share of what a row hears otherwise under which a source says nothing there. */
const negligible = 1e-3;

/** Level under which no stroke is looked for, dB against the loud ones: ghost notes lie up to 36 below. */
export const hopelessLevel = -45;
const nothing = new Float64Array(0);

/** Groups of drums whose loudest tells against a stroke: shells, kick, snare, toms, cymbals. */
const groupsOf = (piece: Piece): number[] =>
  isCymbal(piece) ? [4] : !isShell(piece) ? [] : [0, piece === "kick" ? 1 : piece === "snare" ? 2 : 3];

/** How little a row's energy is explained: Itakura-Saito divergence, at most 4. */
const divergence = (ratio: number): number => Math.min(4, ratio - Math.log(ratio) - 1);

/** How the energy at an instant is explained with a source and without it. */
interface Explanation {
  /** Energy of the source in its own row, and all that is expected there. */
  own: number;
  all: number;
  /** Mean by which its own row is missed, dB; 15 where nothing tells. */
  misfit: number;
  /** What explaining gains with it, in its own row and in others. */
  gainOwn: number;
  gainOther: number;
}
function explain(
  { floor, weights }: Explained,
  heard: ArrayLike<number>,
  without: Float64Array,
  print: ArrayLike<number> | null,
  loudness: number,
  row: number,
): Explanation {
  let [own, all, misfit, used, gainOwn, gainOther] = [0, 1e-30, 0, 0, 0, 0];
  for (let r = 0; r < heard.length && print; r++) {
    const e = heard[r]! + floor[r]!;
    const mine = loudness * print[r]!;
    const isOwn = r >= row * bands && r < (row + 1) * bands;
    if (!isOwn && mine < negligible * without[r]!) continue;
    const gain = divergence(e / without[r]!) - divergence(e / (without[r]! + mine));
    if (!isOwn) {
      gainOther += gain * weights[r]!;
      continue;
    }
    gainOwn += gain;
    own += mine;
    all += mine + without[r]!;
    if (print[r]! > 0.01) {
      misfit += Math.abs(clip(decibels(e / (mine + without[r]!)), -15, 15));
      used++;
    }
  }
  return { own, all, misfit: used > 0 ? misfit / used : 15, gainOwn, gainOther };
}

/** Loudest of the source just before an instant, a little before, and just behind, against it; dB. */
function aroundInstant(
  { instants: { columns } }: Explained,
  acts: ArrayLike<number>,
  i: number,
  hop: number,
): [before: number, lately: number, behind: number] {
  const column = columns[i]!;
  const against = (j: number): number => decibels(acts[j]! / (acts[i]! + 1e-20));
  let [before, lately, behind] = [-60, -60, -60];
  for (let j = i - 1; j >= 0; j--) {
    const ago = (column - columns[j]!) * hop;
    if (ago >= 0.16) break;
    if (ago < 0.05) before = Math.max(before, against(j));
    else lately = Math.max(lately, against(j));
  }
  for (let j = i + 1; j < columns.length && (columns[j]! - column) * hop < 0.05; j++)
    behind = Math.max(behind, against(j));
  return [before, lately, behind];
}

/** Loudest of the other sources at an instant, by group, dB against their loud strokes. */
function loudestOthers(prints: Explained, i: number, groups: readonly (readonly number[])[]): number[] {
  const loudest = [-40, -40, -40, -40, -40];
  for (let q = 0; q < prints.pieces.length; q++) {
    const heardThere = Math.min(6, prints.relative(i, q));
    for (const group of groups[q]!) if (heardThere > loudest[group]!) loudest[group] = heardThere;
  }
  return loudest;
}

/** How a source rings at its instants: cymbals by their own row, or the overhead that hears them loudest; others not. */
function ringsOf(prints: Explained, source: Source, row: number): (i: number) => number[] {
  const silent = ringNames.map(() => 0);
  if (!isCymbal(source)) return () => silent;
  const { pieces, instants, rows, overheads } = prints;
  const energies = new Map(
    (pieces.includes(source) ? [row] : overheads).map((n) => [n, energiesHere(rows[n]!.energies)]),
  );
  return (i) => {
    const loudestFar = (n: number) => prints.own(i, n)[4]! + prints.own(i, n)[5]!;
    const heardIn = pieces.includes(source)
      ? row
      : overheads.reduce((a, b) => (loudestFar(b) > loudestFar(a) ? b : a));
    return ringing(energies.get(heardIn)!, instants.columns[i]!).map((v) => clip(v, -40, 40));
  };
}

/**
 * What speaks for and against a stroke of one source at every instant; dB where nothing else is said.
 * Shape   one row an instant, values as in featureNames; no values where the source's row hears less than `least` dB against its
 *         loud strokes. The rhythm is filled in later (`addRhythm`).
 */
export function strokeFeatures(prints: Explained, source: Source, least = -Infinity): Float64Array[] {
  const { pieces, rows, floor } = prints;
  const every = (value: (i: number) => number) =>
    Float64Array.from({ length: prints.count }, (_, i) => value(i));
  const k = prints.sources.indexOf(source);
  const row = prints.rowOf(source);
  const levels = every((i) => prints.level(i, source));
  const loud = levels.slice().sort().at(-4) ?? 0;
  const levelAt = (i: number) => clip(decibels(levels[i]! / (loud + 1e-30)), -50, 6);
  const acts = every((i) => (k < 0 ? 0 : prints.loudnessOf(i, k)));
  const strong = acts.slice().sort().at(-6) ?? 0;
  const { hop } = rows[row]!.energies;
  const print = k < 0 ? null : prints.prints[k]!;
  const rings = ringsOf(prints, source, row);
  const without = new Float64Array(floor.length);
  const seconds = rows.flatMap((r, n) =>
    n !== row && r.piece >= 0 && pieces[r.piece] === source ? [n] : [],
  );
  const others = pieces.map((piece) => (piece === source ? [] : groupsOf(piece)));
  // One piece of memory for all rows: of its own each would take twice as much.
  const store = new Float64Array(featureCount * every(levelAt).filter((v) => v >= least).length);
  let used = 0;
  const features = Array.from({ length: prints.count }, (_, i) => {
    const heard = prints.heard(i);
    const level = levelAt(i);
    if (level < least) return nothing;
    const values = store.subarray(used, (used += featureCount));
    const overAt = (r: number): number => decibels((heard[r]! + floor[r]!) / without[r]!);
    const overIn = (n: number): number[] => Array.from({ length: bands }, (_, b) => overAt(n * bands + b));
    const a = acts[i]!;
    prints.withoutOne(i, k, without);
    const plain = overIn(row);
    const over = plain.map((v) => clip(v, -12, 30));
    const { own, all, misfit, gainOwn, gainOther } = explain(prints, heard, without, print, a, row);
    const [before, lately, behind] = aroundInstant(prints, acts, i, hop);
    const loudest = loudestOthers(prints, i, others);
    const far = Math.max(-12, ...prints.overheads.flatMap((n) => overIn(n).slice(4)));
    const second = Math.max(-12, ...seconds.map((n) => bestMean(overIn(n), 3)));
    values.set([
      level,
      clip(decibels(a / (strong + 1e-30)), -50, 6),
      clip(prints.excess(i, source, plain), -15, 30),
      ...over,
      bestMean(over, 3),
      bestMean(over, 4) * 4 - bestMean(over, 3) * 3,
      clip(decibels(own / Math.max(1e-30, all - own)), -30, 30),
      clip(gainOwn, -12, 24),
      clip(gainOther, -30, 30),
      misfit,
      clip(before, -40, 40),
      clip(lately, -40, 40),
      clip(behind, -40, 40),
      level - loudest[0]!,
      ...loudest.slice(1),
      clip(far, -12, 30),
      clip(second, -12, 30),
      prints.fresh[i] ? 1 : 0,
      0,
      0,
      ...rings(i),
      0,
      0,
      0,
    ]);
    return values;
  });
  markStanding(prints, source, features, standing);
  return features;
}

/** How far strokes of a steady row may lie apart from where they are expected, s. */
const loose = 0.022;
const longest = 0.75;

/**
 * Fills in the rhythm: whether the source is struck as much before an instant as behind it, by what is known of its other
 * strokes so far, and whether one is struck in between.
 * Shape   times ascending, s; probable 0..1 by instant.
 */
export function addRhythm(
  features: readonly Float64Array[],
  times: readonly number[],
  probable: readonly number[],
): void {
  /** Likeliest stroke near a time. */
  const near = (t: number): number => {
    let best = 0;
    for (let j = firstFrom(times, t - loose); j < times.length && times[j]! <= t + loose; j++)
      best = Math.max(best, probable[j]!);
    return best;
  };
  times.forEach((t, i) => {
    let rhythm = 0;
    for (let j = i + 1; j < times.length && times[j]! - t < longest; j++) {
      const gap = times[j]! - t;
      if (gap < 0.09 || probable[j]! < 0.3) continue;
      const both = Math.min(probable[j]!, near(t - gap));
      const more = 0.5 * (near(t + 2 * gap) + near(t - 2 * gap));
      rhythm = Math.max(rhythm, both * (0.5 + 0.5 * more));
    }
    features[i]![rhythmAt] = rhythm;
    features[i]![rhythmAt + 1] = Math.max(near(t - 0.045), near(t + 0.045));
  });
}
