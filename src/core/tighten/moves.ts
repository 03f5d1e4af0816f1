import { lineDistance, nearestLine } from "../grid/lines";
import { median } from "../signal/level";
import type { Hit, Piece, Section, Tempo, TightenSettings } from "../song/song";
import { settingsAt } from "./settingsAt";
import { groupStrokes, type StrokeGroup } from "./strokes";
import { unsureBars } from "./unsureBars";

/** A group of strokes and where it is wanted. */
export interface Move {
  readonly group: StrokeGroup;
  /** Distance from the grid as played, s: positive late. */
  readonly offset: number;
  /** By how much it is moved, s: positive later. */
  readonly shift: number;
}

/** What is nearer to the grid than strokes are located is on it, s. */
const onGrid = 0.0005;

/** Habitual lean of each drum, s: the median distance of its main strokes from the grid; positive late. */
export function leansOf(
  hits: readonly Hit[],
  tempo: Tempo,
  settings: TightenSettings,
  sections: readonly Section[] = [],
): Partial<Record<Piece, number>> {
  const offsets = new Map<Piece, number[]>();
  for (const h of hits) {
    if (h.ghost || h.kind === "grace") continue;
    const here = settingsAt(h.time, settings, sections);
    const list = offsets.get(h.piece) ?? [];
    list.push(h.time - nearestLine(h.time, tempo, here));
    offsets.set(h.piece, list);
  }
  return Object.fromEntries([...offsets].map(([piece, list]) => [piece, median(list)]));
}

const isLocked = (t: number, { locked, left }: TightenSettings): boolean =>
  locked.some((r) => r.from <= t && t < r.to) || left.some((x) => Math.abs(x - t) < 0.004);

/**
 * Where every group of strokes goes: towards its grid line by the strength, unless it is near enough, locked or taken
 * back, or its bar fits no grid (unsureBars); never further than the largest move. With the lean kept, a drum's line lies where it habitually plays.
 * Shape   ascending; empty without beats or leading strokes. What is played before the first beat stays.
 */
export function planMoves(
  hits: readonly Hit[],
  tempo: Tempo | null,
  settings: TightenSettings,
  sections: readonly Section[] = [],
): Move[] {
  if (!tempo || tempo.beats.length < 2) return [];
  const leans = settings.keepLean ? leansOf(hits, tempo, settings, sections) : {};
  const unsure = unsureBars(hits, tempo, settings, sections);
  const leaders = settings.leaders.filter((p) => !settings.alone.includes(p));
  const led = groupStrokes(hits, leaders, settings.between).map((group): Move => {
    if (group.leads.length === 0) return { group, offset: 0, shift: 0 };
    const mean = (of: (h: Hit) => number) =>
      group.leads.reduce((sum, h) => sum + of(h), 0) / group.leads.length;
    const lean = mean((h) => leans[h.piece] ?? 0);
    const here = settingsAt(group.time, settings, sections);
    const offset = group.time - lean - nearestLine(group.time - lean, tempo, here);
    const share = here.strength * mean((h) => settings.byPiece[h.piece] ?? 1);
    const before = group.time < tempo.beats[0]! - 0.5 * lineDistance(group.time, tempo, here.grid);
    const stays =
      Math.abs(offset) <= Math.max(here.window, onGrid) ||
      before ||
      isLocked(group.time, settings) ||
      unsure.some((b) => b.from <= group.time && group.time < b.to);
    const shift = stays ? 0 : -Math.sign(offset) * Math.min(Math.abs(offset), here.largest) * share;
    return { group, offset, shift };
  });
  return sharing(led);
}

/** Groups that are not led share the moves of the two beside them that are: the nearer one's counts for more. */
function sharing(moves: readonly Move[]): Move[] {
  const behind = new Array<Move | null>(moves.length);
  let next: Move | null = null;
  for (let i = moves.length - 1; i >= 0; i--) {
    behind[i] = next;
    if (moves[i]!.group.leads.length > 0) next = moves[i]!;
  }
  let before: Move | null = null;
  return moves.map((move, i) => {
    if (move.group.leads.length > 0) return (before = move);
    const after = behind[i]!;
    if (!before || !after) return { ...move, shift: (before ?? after)?.shift ?? 0 };
    const place = (move.group.time - before.group.time) / (after.group.time - before.group.time);
    return { ...move, shift: before.shift + place * (after.shift - before.shift) };
  });
}
