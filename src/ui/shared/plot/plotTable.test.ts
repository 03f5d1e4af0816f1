import { expect, test } from "@jest/globals";
import { plotTables } from "./plotTable";

const x = { label: "Hz", min: 100, max: 1600, log: true };
const y = { label: "dB", min: -60, max: 0 };

test("lines stand side by side at places that lie evenly as the axis is drawn, straight between their points", () => {
  const [table, ...others] = plotTables(
    [
      {
        label: "in",
        color: "ink",
        points: [
          [100, -10],
          [1600, -40],
        ],
      },
      {
        label: "out",
        color: "ink",
        points: [
          [300, -6],
          [500, -8],
        ],
      },
    ],
    x,
    y,
  );
  expect(others).toEqual([]);
  expect(table!.head).toEqual(["Hz", "in: dB", "out: dB"]);
  expect(table!.rows[0]).toEqual(["100", "−10", "–"]);
  expect(table!.rows[10]).toEqual(["400", "−16", "−7"]);
  expect(table!.rows).toHaveLength(21);
});
test("points, bars and settings have tables of their own; nothing makes none", () => {
  const tables = plotTables(
    [
      { label: "ghosts", color: "ink", kind: "points", points: [[200, -30]] },
      { label: "counts", color: "ink", kind: "bars", points: [[400, -3]] },
    ],
    { ...x, format: (v) => `${v} Hz` },
    y,
    [{ id: "t", axis: "y", value: -24, label: "threshold" }],
  );
  expect(tables.map((t) => t.rows)).toEqual([
    [
      ["ghosts", "200 Hz", "−30"],
      ["counts", "400 Hz", "−3"],
    ],
    [["threshold", "−24"]],
  ]);
  expect(plotTables([{ label: "in", color: "ink", points: [] }], x, y)).toEqual([]);
});
