import { countGate, type Levels } from "../../core/clean/decide";
import type { Series } from "../shared/Plot";

/** Width of a bar of the distribution, dB. */
const bin = 2;

/** Levels after a gain in dB. */
export const shiftLevels = (levels: Levels, gainDb: number): Levels => {
  const move = (list: readonly number[]) => list.map((l) => l + gainDb);
  return { hits: move(levels.hits), ghosts: move(levels.ghosts), bleed: move(levels.bleed) };
};

/** Distribution of the levels of strokes, ghost notes and bleed, counts per 2 dB. */
export function levelSeries({ hits, ghosts, bleed }: Levels, color: string): Series[] {
  const count = (list: readonly number[]) =>
    Array.from({ length: 40 }, (_, i): [number, number] => {
      const level = -78 + bin * i;
      return [level, list.filter((l) => l >= level - bin / 2 && l < level + bin / 2).length];
    });
  return [
    { label: `bleed, ${bleed.length} events`, color: "ink-soft", fill: true, points: count(bleed) },
    { label: `ghost notes, ${ghosts.length}`, color: "hat", fill: true, dashed: true, points: count(ghosts) },
    { label: `main strokes, ${hits.length}`, color, fill: true, width: 2.5, points: count(hits) },
  ];
}

/** What a threshold does, in one line. */
export function verdict(levels: Levels, threshold: number): string {
  const c = countGate(levels, threshold);
  return `main ${c.hitsPassed}/${c.hits}, ghosts ${c.ghostsPassed}/${c.ghosts}, false opens ${c.falseOpens}`;
}
