import type { Owner } from "../../../core/song/graph";

/** Height of a line of boxes, and of a box, px. */
export const row = 25;
/** Widest that the picture should be, px; then it scrolls. */
const widest = 656;
const slimmest = 96;
export const boxHeight = 21;

/** A mic or bus as it is drawn. */
export interface Box {
  readonly owner: Owner;
  readonly x: number;
  readonly y: number;
}

/** Width of the boxes and of the room between them for so many columns. */
export function measures(columns: number): { box: number; gap: number } {
  const gap = columns > 4 ? 30 : 44;
  const box = Math.floor((widest - (columns - 1) * gap) / columns);
  return { box: Math.max(slimmest, Math.min(130, box)), gap };
}

/** Where every mic and bus is drawn: a bus stands in the middle of what goes to it, without lying on another. */
export function layOut(
  columns: readonly (readonly Owner[])[],
  step: number,
): { boxes: Map<string, Box>; height: number } {
  const boxes = new Map<string, Box>();
  columns.forEach((owners, c) => {
    let free = 0;
    const wished = owners.map((owner, i) => {
      const feeding = [...boxes.values()].filter((b) => b.owner.output === owner.id).map((b) => b.y);
      return { owner, y: feeding.length > 0 ? feeding.reduce((s, y) => s + y, 0) / feeding.length : i * row };
    });
    for (const { owner, y } of c === 0 ? wished : wished.sort((a, b) => a.y - b.y)) {
      const at = Math.max(free, y);
      boxes.set(owner.id, { owner, x: c * step, y: at });
      free = at + row;
    }
  });
  const lowest = Math.max(...[...boxes.values()].map((b) => b.y));
  return { boxes, height: lowest + row };
}

/** A line from the end of one box to the beginning of another. */
export const curve = (x1: number, y1: number, x2: number, y2: number): string => {
  const bend = Math.max(24, Math.abs(x2 - x1) / 2);
  return `M${x1},${y1} C${x1 + bend},${y1} ${x2 - bend},${y2} ${x2},${y2}`;
};
