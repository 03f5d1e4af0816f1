import type { Hit } from "../src/core/song/song";
import type { Truth } from "./simulate";

const shells = ["kick", "snare", "tom1", "tom2", "tom3", "floor"];

/** Nearest pairs of two lists of times within a tolerance, each used once; indices. Source  Bello et al., IEEE Trans. SAP 13(5), 2005. */
export function matched(
  truth: readonly number[],
  found: readonly number[],
  tolerance: number,
): [number, number][] {
  const pairs = truth.flatMap((t, i) =>
    found.flatMap((f, j) => (Math.abs(t - f) <= tolerance ? [[Math.abs(t - f), i, j] as const] : [])),
  );
  const [left, right] = [new Set<number>(), new Set<number>()];
  const out: [number, number][] = [];
  for (const [, i, j] of pairs.sort((a, b) => a[0] - b[0])) {
    if (left.has(i) || right.has(j)) continue;
    left.add(i);
    right.add(j);
    out.push([i, j]);
  }
  return out;
}

const fMeasure = (right: number, found: number, truth: number): number =>
  found + truth === 0 ? 1 : (2 * right) / (found + truth);

export interface HitScore {
  /** F-measure of main strokes of kick, snare and toms within 5 ms, and within 20 ms. */
  mainF: number;
  mainWideF: number;
  /** F-measure of ghost notes within 20 ms. */
  ghostF: number;
  /** F-measure of hat and ride within 20 ms. */
  cymbalF: number;
  /** Timing error of matched main strokes, s: in the middle, and under which 95 of 100 lie. */
  timingMedian: number;
  timing95: number;
}

/**
 * Scores found strokes against the simulator's truth. Main strokes that were found as ghosts count as lost and wrong.
 * Source  Bello et al., IEEE Trans. SAP 13(5), 2005; Dixon, DAFx 2006: matching within a window, F-measure.
 */
export function scoreHits(
  found: readonly Pick<Hit, "piece" | "time" | "ghost">[],
  truth: Truth["hits"],
): HitScore {
  const errors: number[] = [];
  const f = (
    pieces: readonly string[],
    tolerance: number,
    take: (h: { ghost: boolean }) => boolean,
    errorsInto?: number[],
  ): number => {
    let right = 0;
    let all = 0;
    let wanted = 0;
    for (const piece of pieces) {
      const a = found.filter((h) => h.piece === piece && take(h)).map((h) => h.time);
      const b = truth.filter((h) => h.piece === piece && take(h)).map((h) => h.timeSeconds);
      const e = matched(b, a, tolerance).map(([i, j]) => Math.abs(a[j]! - b[i]!));
      errorsInto?.push(...e);
      right += e.length;
      all += a.length;
      wanted += b.length;
    }
    return fMeasure(right, all, wanted);
  };
  const mainF = f(shells, 0.005, (h) => !h.ghost, errors);
  errors.sort((a, b) => a - b);
  return {
    mainF,
    mainWideF: f(shells, 0.02, (h) => !h.ghost),
    ghostF: f(shells, 0.02, (h) => h.ghost),
    cymbalF: f(["hat", "ride"], 0.02, () => true),
    timingMedian: errors[errors.length >> 1] ?? 0,
    timing95: errors[Math.floor(0.95 * errors.length)] ?? 0,
  };
}
