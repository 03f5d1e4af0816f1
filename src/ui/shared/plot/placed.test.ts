import { expect, test } from "@jest/globals";
import type { Chart } from "chart.js";
import { placedIn, reachOf } from "./placed";

const drag = () => {};
const axis = { label: "", min: 0, max: 100 };
/** Scales of a pixel a unit, the second upside down. */
const chart = {
  scales: { x: { getPixelForValue: (v: number) => 50 + v }, y: { getPixelForValue: (v: number) => 200 - v } },
  chartArea: { left: 50, top: 10, width: 300, height: 190 },
} as unknown as Chart;
const line = (id: string, on: "x" | "y", value: number) => ({ id, axis: on, value, label: id, drag });

test("a line is held over its whole length, a handle where it lies; lines that stand still are not held", () => {
  const placed = placedIn(chart, {
    caption: "",
    series: [],
    x: axis,
    y: axis,
    marks: [line("gate", "y", 40), line("from", "x", 100), { ...line("still", "x", 20), drag: undefined! }],
    handles: [{ id: "band", x: 30, y: 60, label: "1", drag }],
  });
  expect(placed).toEqual([
    { kind: "x", id: "from", left: 138, top: 10, width: 24, height: 190 },
    { kind: "y", id: "gate", left: 50, top: 148, width: 300, height: 24 },
    { kind: "both", id: "band", left: 68, top: 128, width: 24, height: 24 },
  ]);
});
test("of two lines that are close each is held where it is the nearer one", () => {
  expect(reachOf(100, [100, 110])).toBe(5);
  expect(reachOf(100, [100, 400])).toBe(12);
  expect(reachOf(100, [100, 101])).toBe(3);
  expect(reachOf(100, [100])).toBe(12);
});
