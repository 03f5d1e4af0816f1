import { editedTime } from "../engine/timeline";
import { nearestLine } from "../grid/lines";
import type { Edit, Hit, Section, Tempo, TightenSettings } from "../song/song";
import { settingsAt } from "./settingsAt";

export interface Tightness {
  /** Spread (root mean square) of the leading drums' main strokes around the grid, s. */
  spreadBefore: number;
  spreadAfter: number;
  cuts: number;
  largestMove: number; // s
}

/** Strokes that decide: the leading drums' main ones. */
export const leadingStrokes = (hits: readonly Hit[], { leaders }: Pick<TightenSettings, "leaders">): Hit[] =>
  hits.filter((h) => leaders.includes(h.piece) && !h.ghost && h.kind !== "grace");

/** How far the leading strokes lie off the grid before and after the cuts. */
export function measureTightness(
  hits: readonly Hit[],
  tempo: Tempo,
  settings: TightenSettings,
  sections: readonly Section[],
  edits: readonly Edit[],
  sampleRate: number,
): Tightness {
  const mains = leadingStrokes(hits, settings);
  const spread = (at: (h: Hit) => number) => {
    const offsets = mains.map(
      (h) => at(h) - nearestLine(at(h), tempo, settingsAt(h.time, settings, sections)),
    );
    return Math.sqrt(offsets.reduce((s, o) => s + o * o, 0) / Math.max(1, offsets.length));
  };
  return {
    spreadBefore: spread((h) => h.time),
    spreadAfter: spread((h) => editedTime(edits, h.time, sampleRate)),
    cuts: edits.length,
    largestMove: edits.reduce((most, e) => Math.max(most, Math.abs(e.shift)), 0) / sampleRate,
  };
}
