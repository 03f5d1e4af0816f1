import { barAt } from "../grid/bars";
import { nearestLine } from "../grid/lines";
import { median } from "../signal/level";
import { isShell, type Hit, type Piece, type Section, type Tempo, type TightenSettings } from "../song/song";
import { settingsAt } from "./settingsAt";

/** How some strokes lie against the grid. */
export interface Feel {
  readonly strokes: number;
  /** Middle distance from the grid, s; positive late. */
  readonly lean: number;
  /** Standard deviation around it, s. */
  readonly spread: number;
}

/** A drum's main strokes against the grid, in the whole song (`section` null) or in one section. */
export interface DrumFeel extends Feel {
  readonly piece: Piece;
  readonly section: string | null;
}

type Offset = (h: Hit) => number;

const feelOf = (hits: readonly Hit[], offset: Offset): Feel => {
  const list = hits.map(offset);
  if (list.length === 0) return { strokes: 0, lean: 0, spread: 0 };
  const mean = list.reduce((sum, x) => sum + x, 0) / list.length;
  const spread = Math.sqrt(list.reduce((sum, x) => sum + (x - mean) ** 2, 0) / list.length);
  return { strokes: list.length, lean: median(list), spread };
};

/** Distance of a stroke from the grid that holds where it is played, s; positive late. */
export const offsetOf =
  (tempo: Tempo, settings: TightenSettings, sections: readonly Section[]): Offset =>
  (h) =>
    h.time - nearestLine(h.time, tempo, settingsAt(h.time, settings, sections));

/** Lean and spread of every drum, over the song and in every section where it is played. */
export function feelByDrum(
  hits: readonly Hit[],
  tempo: Tempo,
  settings: TightenSettings,
  sections: readonly Section[],
): DrumFeel[] {
  const mains = hits.filter((h) => !h.ghost && h.kind !== "grace");
  const offset = offsetOf(tempo, settings, sections);
  const pieces = [...new Set(mains.map((h) => h.piece))];
  return pieces.flatMap((piece) => {
    const own = mains.filter((h) => h.piece === piece);
    const parts = sections.map((s) => ({
      id: s.id,
      list: own.filter((h) => h.time >= s.from && h.time < s.to),
    }));
    return [
      { piece, section: null, ...feelOf(own, offset) },
      ...parts
        .filter((p) => p.list.length > 0)
        .map((p) => ({ piece, section: p.id, ...feelOf(p.list, offset) })),
    ];
  });
}

/** A fill that runs away from the beat, or lags behind it. */
export interface Fill {
  readonly from: number; // s
  readonly to: number;
  /** Bar and beat at which it begins. */
  readonly at: string;
  readonly strokes: number;
  /** By how much later (positive) its end lies than its beginning, s: negative rushes. */
  readonly drags: number;
}

/** Strokes of snare and toms that follow within this many beats are one fill, of at least so many strokes. */
const fillGap = 0.6;
const fillStrokes = 5;

/**
 * Fills and how they run: strokes of snare and toms in close order, with at least one tom among them. What it drags or
 * rushes is the line through its distances from the grid, from its first to its last stroke.
 */
export function findFills(
  hits: readonly Hit[],
  tempo: Tempo,
  settings: TightenSettings,
  sections: readonly Section[],
): Fill[] {
  const offset = offsetOf(tempo, settings, sections);
  const beat = 60 / tempo.bpm;
  const runs: Hit[][] = [];
  for (const h of hits) {
    if (!isShell(h.piece) || h.piece === "kick" || h.ghost || h.kind === "grace") continue;
    const run = runs[runs.length - 1];
    if (run && h.time - run[run.length - 1]!.time < fillGap * beat) run.push(h);
    else runs.push([h]);
  }
  return runs
    .filter((r) => r.length >= fillStrokes && r.some((h) => h.piece !== "snare"))
    .map((r) => {
      const [from, to] = [r[0]!.time, r[r.length - 1]!.time];
      const mean = r.reduce((sum, h) => sum + h.time, 0) / r.length;
      const slope =
        r.reduce((sum, h) => sum + (h.time - mean) * offset(h), 0) /
        r.reduce((sum, h) => sum + (h.time - mean) ** 2, 1e-12);
      return { from, to, at: barAt(tempo, from), strokes: r.length, drags: slope * (to - from) };
    });
}
