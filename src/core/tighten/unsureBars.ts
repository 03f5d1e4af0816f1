import { barLines } from "../grid/bars";
import { lineDistance, nearestLine } from "../grid/lines";
import { median } from "../signal/level";
import type { Hit, Section, Tempo, TightenSettings } from "../song/song";
import { settingsAt } from "./settingsAt";
import { leadingStrokes } from "./tightness";

/** Stretch of the song that no grid line explains: what is played there is left as it is. */
export interface UnsureBar {
  readonly bar: number;
  /** s. */
  readonly from: number;
  readonly to: number;
}

/** A bar with fewer leading strokes says nothing about its beats. */
const fewest = 4;
/** Strokes anywhere lie half way, in the middle, between a line and the border to the next: so far off says that no line is meant. */
const chance = 0.45;

/**
 * Bars whose beats are unsure: their leading strokes lie as far from the grid as strokes anywhere would.
 * Shape   ascending; empty without beats.
 */
export function unsureBars(
  hits: readonly Hit[],
  tempo: Tempo | null,
  settings: TightenSettings,
  sections: readonly Section[] = [],
): UnsureBar[] {
  if (!tempo || tempo.beats.length < 2) return [];
  const leading = leadingStrokes(hits, settings);
  const lines = barLines(tempo);
  return lines.flatMap(({ bar, seconds }, i) => {
    const to = lines[i + 1]?.seconds ?? Infinity;
    // A stroke just before the line belongs to the bar that it begins.
    const early = 0.25 * lineDistance(seconds, tempo, "1/4");
    const own = leading.filter((h) => h.time >= seconds - early && h.time < to - early);
    if (own.length < fewest) return [];
    const off = own.map((h) => {
      const here = settingsAt(h.time, settings, sections);
      return (
        Math.abs(h.time - nearestLine(h.time, tempo, here)) / (0.5 * lineDistance(h.time, tempo, here.grid))
      );
    });
    return median(off) > chance ? [{ bar, from: seconds - early, to: to - early }] : [];
  });
}
