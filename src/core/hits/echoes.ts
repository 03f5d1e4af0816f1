import { median } from "../signal/level";
import type { Hit, Piece } from "../song/song";

/** Drums that may be miked and never played; the others carry a song. */
const mayRest: readonly Piece[] = ["tom1", "tom2", "tom3", "floor"];
/** How far apart two strokes may be that are held against each other, s: the way of sound through a kit. */
const reach = 0.012;
/** Two hands that strike together scatter by several ms; what one mic hears of another drum comes always as late, s. */
const scatter = 0.0006;
const fewest = 3;
const mostShare = 0.7;

/** Lags of strokes behind another drum's nearest ones, s, by stroke; those without one near are left out. */
function lagsBehind(own: readonly Hit[], other: readonly Hit[]): { hit: Hit; lag: number }[] {
  return own.flatMap((hit) => {
    let lag = Infinity;
    for (const { time } of other) if (Math.abs(hit.time - time) < Math.abs(lag)) lag = hit.time - time;
    return Math.abs(lag) < reach ? [{ hit, lag }] : [];
  });
}

/**
 * Strokes without those of toms that are another drum's heard in their mics: nearly all lie behind strokes of that drum, and always as late,
 * which no pair of hands does. Shape  hits in any order; the same order comes back.
 */
export function withoutEchoes(hits: readonly Hit[]): Hit[] {
  const pieces = [...new Set(hits.map((h) => h.piece))];
  const of = (piece: Piece) => hits.filter((h) => h.piece === piece);
  const echoes = new Set<Hit>();
  for (const piece of pieces.filter((p) => mayRest.includes(p))) {
    const own = of(piece);
    if (own.length < fewest) continue;
    for (const other of pieces.filter((p) => p !== piece)) {
      const found = lagsBehind(own, of(other));
      if (found.length < mostShare * own.length) continue;
      const usual = median(found.map((f) => f.lag));
      const same = found.filter((f) => Math.abs(f.lag - usual) < scatter);
      if (same.length >= mostShare * own.length) for (const { hit } of same) echoes.add(hit);
    }
  }
  return echoes.size === 0 ? [...hits] : hits.filter((h) => !echoes.has(h));
}
