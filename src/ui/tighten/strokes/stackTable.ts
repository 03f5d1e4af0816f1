import type { StrokeStack } from "../../../core/hits/stack";
import type { PlotTable } from "../../shared/plot/plotTable";

/** Instants that are told of every stroke, ms from its start. */
const instants = [-10, 0, 5, 10, 20, 40, 80, 120] as const;

/** Strokes of a picture as rows: when each is, and how loud it is from its start on. `times`: by row of the stack, s. */
export function stackTable(
  stack: StrokeStack,
  order: readonly number[],
  times: readonly number[],
): PlotTable {
  const level = (row: number, ms: number): string => {
    const column = Math.round((ms / 1000 - stack.from) / stack.step);
    const db = stack.levels[row * stack.columns + Math.min(stack.columns - 1, column)]!;
    return db.toFixed(1).replace("-", "−");
  };
  return {
    head: ["Stroke at, s", ...instants.map((ms) => `${String(ms).replace("-", "−")} ms, dBFS`)],
    rows: order.map((row) => [(times[row] ?? 0).toFixed(3), ...instants.map((ms) => level(row, ms))]),
  };
}
