import { firstAbove } from "../signal/ascending";
import type { Opening, Tails } from "../facts/tails";
import { bandEdges, bands, type EnergiesHere } from "../hits/bandEnergies";
import { median } from "../signal/level";

/** Behind a stroke its tail is followed for so long, s; nothing else of the drum may lie in it. */
const longest = 0.6;
/** Bleed is measured where the last stroke of the drum lies this far back and the next is not near, s. */
const clearOf = 0.45;
const beforeNext = 0.03;
/** Corners that are tried: edges of the bands. */
const corners = [2, 3, 4] as const;
/** Shortest and longest time open, s. */
const holdRange = [0.02, 0.5] as const;
/** Release as a share of the hold: what is left of the tail goes with it, s at least. */
const releaseShare = 0.35;
const releaseRange = [0.02, 0.25] as const;
const fewestStrokes = 3;

/** Mean energy by band and column after the strokes, and between them. */
interface Picture {
  readonly after: Float64Array[];
  readonly between: Float64Array;
  readonly strokes: number;
}

function pictureOf(e: EnergiesHere, mains: readonly number[], all: readonly number[]): Picture | null {
  const columns = Math.round(longest / e.hop);
  const column = (t: number) => Math.round(t / e.hop);
  const used = mains.filter((t) => column(t) + columns < e.columns);
  if (used.length < fewestStrokes) return null;
  const next = used.map((t) => all[firstAbove(all, t + 0.001)] ?? Infinity);
  const after = Array.from({ length: bands }, () => new Float64Array(columns));
  const list: number[] = [];
  for (let c = 0; c < columns; c++) {
    const open = used.filter((t, i) => next[i]! > t + c * e.hop + beforeNext);
    for (let b = 0; b < bands; b++) {
      list.length = 0;
      for (const t of open) list.push(e.energy[b]![column(t) + c]!);
      // The middle of the strokes: another drum's stroke in one of them says nothing about the tail.
      after[b]![c] = list.length >= fewestStrokes ? median(list) : NaN;
    }
  }
  const between = new Float64Array(bands);
  let count = 0;
  let coming = 0;
  for (let c = 0; c < e.columns; c++) {
    const t = c * e.hop;
    while (coming < all.length && all[coming]! <= t + beforeNext) coming++;
    const last = coming > 0 ? all[coming - 1]! : -Infinity;
    if (t - last < clearOf || (all[coming] ?? Infinity) - t < beforeNext) continue;
    for (let b = 0; b < bands; b++) between[b]! += e.energy[b]![c]!;
    count++;
  }
  if (count === 0) return null;
  return { after, between: between.map((x) => x / count), strokes: used.length };
}

/** Best column to close some bands at, and the error that is left: bleed while open, lost drum when closed. */
function bestClose(own: Float64Array, bleed: number, hop: number): { column: number; error: number } {
  const least = Math.round(holdRange[0] / hop);
  const most = Math.min(own.length, Math.round(holdRange[1] / hop));
  let lost = own.subarray(least).reduce((sum, x) => sum + x, 0);
  let best = { column: least, error: least * bleed + lost };
  for (let c = least; c < most; c++) {
    lost -= own[c]!;
    const error = (c + 1) * bleed + lost;
    if (error < best.error) best = { column: c + 1, error };
  }
  return best;
}

/**
 * How long a mic must stay open after its drum's strokes, in two bands, so that bleed and lost drum together are least:
 * each band is closed when its tail has sunk to the bleed. Null: too few strokes to tell, or no bleed between them.
 * Shape   energies of the mic (bandEnergies); strokes as they arrive in it, s, ascending, ghosts among `all`.
 */
export function measureTails(
  e: EnergiesHere,
  mains: readonly number[],
  all: readonly number[],
): Tails | null {
  const picture = pictureOf(e, mains, all);
  if (!picture) return null;
  const { after, between, strokes } = picture;
  const sum = (from: number, to: number) => {
    const bleed = between.slice(from, to).reduce((s, x) => s + x, 0);
    const own = after[0]!.map((_, c) => {
      let s = 0;
      for (let b = from; b < to; b++)
        s += Math.max(0, (Number.isFinite(after[b]![c]!) ? after[b]![c]! : 0) - between[b]!);
      return s;
    });
    return { own, bleed };
  };
  const opening = (column: number): Opening => {
    const hold = Math.min(holdRange[1], Math.max(holdRange[0], column * e.hop));
    return { hold, release: Math.min(releaseRange[1], Math.max(releaseRange[0], releaseShare * hold)) };
  };
  const whole = sum(0, bands);
  const drum = whole.own.reduce((s, x) => s + x, 0);
  if (drum <= 0) return null;
  // Untreated, the bleed of the whole time between two strokes lies under each.
  const spacing = Math.max(longest, (all[all.length - 1]! - all[0]!) / Math.max(1, all.length - 1));
  const before = (whole.bleed * spacing) / e.hop;
  const tried = corners.map((k) => {
    const [low, high] = [sum(0, k), sum(k, bands)];
    const [a, b] = [bestClose(low.own, low.bleed, e.hop), bestClose(high.own, high.bleed, e.hop)];
    return {
      corner: bandEdges[k]!,
      low: opening(a.column),
      high: opening(b.column),
      error: a.error + b.error,
    };
  });
  const best = tried.reduce((x, y) => (y.error < x.error ? y : x));
  const db = (energy: number) => 10 * Math.log10(energy / drum + 1e-12);
  const { corner, low, high } = best;
  const one = bestClose(whole.own, whole.bleed, e.hop);
  return {
    corner,
    low,
    high,
    whole: opening(one.column),
    wholeAfter: db(one.error),
    errorBefore: db(before),
    errorAfter: db(best.error),
    strokes,
  };
}
