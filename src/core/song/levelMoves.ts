import type { LevelMove } from "./song";

/** Limits of the moves of one fader. */
export const moveLimits = { points: 2000, min: -60, max: 24 } as const;

/** A fader that stands still, for what is judged without how it is moved. */
export const stillFader = { levelBySection: {}, levelMoves: [] } as const;

/** A move within what a fader may have, dB. */
export const heldMove = (db: number): number => Math.min(moveLimits.max, Math.max(moveLimits.min, db));

/** Points nearer to each other than this are one, s. */
const apart = 0.001;
/** Time in which a ridden fader comes from its course before, and goes back to it, s. */
const joins = 0.05;

/**
 * What moves add to a fader at an instant of the song, dB: in a straight line from point to point, the first and last hold on to either side.
 * Shape  moves ascending by time.
 */
export function movedBy(moves: readonly LevelMove[], time: number): number {
  const next = moves.findIndex((m) => m.time > time);
  if (next < 0) return moves.at(-1)?.db ?? 0;
  const b = moves[next]!;
  if (next === 0) return b.db;
  const a = moves[next - 1]!;
  return a.db + ((b.db - a.db) * (time - a.time)) / (b.time - a.time);
}

/**
 * The same course with as few points as hold it within `tolerance` dB everywhere. Shape  ascending by time.
 * Source  the line simplification of Ramer (1972) and Douglas and Peucker (1973), by the distance in dB.
 */
export function thinned(moves: readonly LevelMove[], tolerance: number): LevelMove[] {
  if (moves.length < 3) return [...moves];
  const keep = new Set([0, moves.length - 1]);
  const parts: [number, number][] = [[0, moves.length - 1]];
  for (let part = parts.pop(); part; part = parts.pop()) {
    const [from, to] = part;
    const line = [moves[from]!, moves[to]!];
    let [worst, at] = [tolerance, -1];
    for (let i = from + 1; i < to; i++) {
      const off = Math.abs(moves[i]!.db - movedBy(line, moves[i]!.time));
      if (off > worst) [worst, at] = [off, i];
    }
    if (at < 0) continue;
    keep.add(at);
    parts.push([from, at], [at, to]);
  }
  return moves.filter((_, i) => keep.has(i));
}

/**
 * Moves with a stretch of them ridden anew: before and behind it the fader goes as it did, which it comes from and goes back to in a
 * twentieth of a second. Shape  both ascending by time; `ridden` may be empty.
 */
export function withRidden(moves: readonly LevelMove[], ridden: readonly LevelMove[]): LevelMove[] {
  const [first, last] = [ridden[0], ridden.at(-1)];
  if (!first || !last) return [...moves];
  const from = Math.max(0, first.time - joins);
  const to = last.time + joins;
  const point = (time: number): LevelMove => ({ time, db: movedBy(moves, time) });
  const all = [
    ...moves.filter((m) => m.time < from - apart),
    ...(first.time - from > apart ? [point(from)] : []),
    ...ridden,
    point(to),
    ...moves.filter((m) => m.time > to + apart),
  ];
  return fitting(all, finest);
}

/** What one hears least of a move, dB (common practice, no source). */
const finest = 0.1;
/** As many points as a fader may have: where there are more, the course is held less finely, all over the song. */
const fitting = (moves: readonly LevelMove[], tolerance: number): LevelMove[] =>
  moves.length <= moveLimits.points ? [...moves] : fitting(thinned(moves, tolerance), 2 * tolerance);

/** Moves with one point more, or one put elsewhere: `at` is its place now; null: a new one. */
export function withPoint(moves: readonly LevelMove[], at: number | null, point: LevelMove): LevelMove[] {
  const others = moves.filter((_, i) => i !== at);
  return [
    ...others.filter((m) => Math.abs(m.time - point.time) > apart),
    { time: Math.max(0, point.time), db: heldMove(point.db) },
  ].sort((a, b) => a.time - b.time);
}
