import { editedTime } from "../engine/timeline";
import { nearestLine } from "../grid/lines";
import type { Hit, Song, TightenSettings } from "../song/song";
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

/** How far a stroke lies off the grid, before and after the cuts, s; `time` as it is played. */
export interface StrokeOffset {
  readonly time: number;
  readonly before: number;
  readonly after: number;
}

/** What of a song says how its strokes lie. */
export type Timed = Pick<Song, "hits" | "tempo" | "tighten" | "sections" | "edits" | "sampleRate">;

/** Every leading stroke beside the grid; none where no tempo is known. */
export function strokeOffsets({ hits, tempo, tighten, sections, edits, sampleRate }: Timed): StrokeOffset[] {
  if (!tempo) return [];
  return leadingStrokes(hits, tighten).map((h) => {
    const off = (t: number) => t - nearestLine(t, tempo, settingsAt(h.time, tighten, sections));
    const { time } = h;
    return { time, before: off(time), after: off(editedTime(edits, time, sampleRate)) };
  });
}

/** How far the leading strokes lie off the grid before and after the cuts; null where no tempo is known. */
export function measureTightness(song: Timed): Tightness | null {
  if (!song.tempo) return null;
  const { edits, sampleRate } = song;
  const offsets = strokeOffsets(song);
  const spread = (of: (o: StrokeOffset) => number): number =>
    Math.sqrt(offsets.reduce((sum, o) => sum + of(o) ** 2, 0) / Math.max(1, offsets.length));
  return {
    spreadBefore: spread((o) => o.before),
    spreadAfter: spread((o) => o.after),
    cuts: edits.length,
    largestMove: edits.reduce((most, e) => Math.max(most, Math.abs(e.shift)), 0) / sampleRate,
  };
}
