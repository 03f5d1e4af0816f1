import type { Hit } from "../src/core/song/song";
import type { Truth } from "./simulate";

const shells = ["kick", "snare", "tom1", "tom2", "tom3", "floor"];

/** Distances in s of matched onsets, each truth matched at most once, and how many were matched. */
function match(found: readonly number[], truth: readonly number[], tolerance: number): number[] {
  const used = new Set<number>();
  const errors: number[] = [];
  for (const t of truth) {
    let best = -1;
    found.forEach((f, i) => {
      if (used.has(i) || Math.abs(f - t) > tolerance) return;
      if (best < 0 || Math.abs(f - t) < Math.abs(found[best]! - t)) best = i;
    });
    if (best < 0) continue;
    used.add(best);
    errors.push(Math.abs(found[best]! - t));
  }
  return errors;
}

const fMeasure = (matched: number, found: number, truth: number): number =>
  found + truth === 0 ? 1 : (2 * matched) / (found + truth);

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
    let matched = 0;
    let all = 0;
    let wanted = 0;
    for (const piece of pieces) {
      const a = found.filter((h) => h.piece === piece && take(h)).map((h) => h.time);
      const b = truth.filter((h) => h.piece === piece && take(h)).map((h) => h.timeSeconds);
      const e = match(a, b, tolerance);
      errorsInto?.push(...e);
      matched += e.length;
      all += a.length;
      wanted += b.length;
    }
    return fMeasure(matched, all, wanted);
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
