import type { Chart } from "chart.js";
import type { PlotProps } from "./types";

/** One thing in a plot that is dragged, and the box in which it is taken hold of, px. */
export interface Placed {
  readonly kind: "x" | "y" | "both";
  readonly id: string;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** How far from its place something is taken hold of, px; less, but so much, where another line is nearer. */
const reach = 12;
const leastReach = 3;

/** How far a line is taken hold of on either side, so that of two that are close each is held where it is the nearer one. */
export function reachOf(at: number, others: readonly number[]): number {
  const nearest = Math.min(...others.filter((o) => o !== at).map((o) => Math.abs(o - at)));
  return Math.max(leastReach, Math.min(reach, nearest / 2));
}

const round = (px: number): number => Math.round(10 * px) / 10;

/** Where everything that is dragged lies in a chart that was drawn: lines over their whole length, handles where they are. */
export function placedIn({ scales, chartArea }: Chart, { marks = [], handles = [] }: PlotProps): Placed[] {
  const { x, y } = scales;
  if (!x || !y) return [];
  const lines = (axis: "x" | "y") =>
    marks
      .filter((m) => m.drag && m.axis === axis)
      .map((m) => ({ id: m.id, at: (axis === "x" ? x : y).getPixelForValue(m.value) }));
  const { left, top, width, height } = chartArea;
  const placed = (["x", "y"] as const).flatMap((kind) => {
    const all = lines(kind);
    return all.map(({ id, at }): Placed => {
      const half = reachOf(
        at,
        all.map((l) => l.at),
      );
      return kind === "x"
        ? { kind, id, left: round(at - half), top, width: round(2 * half), height }
        : { kind, id, left, top: round(at - half), width, height: round(2 * half) };
    });
  });
  return [
    ...placed,
    ...handles.map((h): Placed => ({
      kind: "both",
      id: h.id,
      left: round(x.getPixelForValue(h.x) - reach),
      top: round(y.getPixelForValue(h.y) - reach),
      width: 2 * reach,
      height: 2 * reach,
    })),
  ];
}
