import type { Grid, Tempo } from "../song/song";
import { barOf, beatAt } from "./bars";

/** Grid lines a beat where a beat is a quarter, and where it is a dotted one: there T has nothing to divide in three. */
const parts: Record<Grid, readonly [quarter: number, dotted: number]> = {
  "1/4": [1, 1],
  "1/8": [2, 3],
  "1/8T": [3, 3],
  "1/16": [4, 6],
  "1/16T": [6, 6],
  "1/32": [8, 12],
};
export const gridParts = (grid: Grid, compound: boolean): number => parts[grid][compound ? 1 : 0];

export interface GridChoice {
  readonly grid: Grid;
  /** Where every second line lies between its neighbours, 0.5 to 0.75. */
  readonly swing: number;
}

/** Place of a line within its beat, 0..1. Swing moves every second line; lines that come in threes have none. */
const placeOf = (line: number, count: number, swing: number): number =>
  count % 2 === 0 && line % 2 !== 0 ? (line - 1 + 2 * swing) / count : line / count;

/**
 * Nearest grid line to an instant, s; the beats go on at both ends with their last distance.
 * Shape   at least two beats.
 */
export function nearestLine(seconds: number, tempo: Tempo, { grid, swing }: GridChoice): number {
  const { beats } = tempo;
  const last = beats.length - 2;
  const index = Math.max(0, Math.min(last, beatAt(beats, seconds)));
  const from = beats[index]!;
  const length = beats[index + 1]! - from;
  const whole = index + Math.floor((seconds - from) / length);
  const start = from + (whole - index) * length;
  const count = gridParts(grid, barOf(tempo, Math.max(0, whole)).compound);
  const inBeat = (seconds - start) / length;
  let best = start;
  let off = Infinity;
  for (let line = Math.floor(inBeat * count) - 1; line <= Math.ceil(inBeat * count) + 1; line++) {
    const at = placeOf(((line % count) + count) % count, count, swing) + Math.floor(line / count);
    if (Math.abs(at - inBeat) < off) {
      off = Math.abs(at - inBeat);
      best = start + at * length;
    }
  }
  return best;
}

/** Distance of the grid's lines around an instant, s: what lies further than half of it belongs to the next one. */
export function lineDistance(seconds: number, tempo: Tempo, grid: Grid): number {
  const index = Math.max(0, Math.min(tempo.beats.length - 2, beatAt(tempo.beats, seconds)));
  const beat = tempo.beats[index + 1]! - tempo.beats[index]!;
  return beat / gridParts(grid, barOf(tempo, index).compound);
}
