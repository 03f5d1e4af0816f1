import type { AxisSpec, Mark, Series } from "./types";

/** Rows of a table behind lines, and most rows of points. */
const [steps, mostPoints] = [21, 200];

export interface PlotTable {
  readonly head: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

const told = (v: number, format?: (v: number) => string): string =>
  format ? format(v) : Number(v.toPrecision(4)).toString().replace("-", "−");

/** A line's value at a place, straight between its points; null outside it. Shape  points ascending. */
function valueOf(points: Series["points"], at: number): number | null {
  const next = points.findIndex(([px]) => px >= at);
  if (next < 0) return null;
  const [bx, by] = points[next]!;
  if (bx === at) return by;
  const before = points[next - 1];
  if (!before) return null;
  return before[1] + ((by - before[1]) * (at - before[0])) / (bx - before[0]);
}

/** Places over an axis, evenly apart as it is drawn. */
const placesOf = ({ min, max, log }: AxisSpec): number[] =>
  Array.from({ length: steps }, (_, i) => {
    const share = i / (steps - 1);
    return log ? min * (max / min) ** share : min + share * (max - min);
  });

/** What a picture shows, as tables for those who do not see it: its lines side by side, its points and bars, and the settings in it. */
export function plotTables(
  series: readonly Series[],
  x: AxisSpec,
  y: AxisSpec,
  marks: readonly Mark[] = [],
): PlotTable[] {
  const lines = series.filter((s) => (s.kind ?? "line") === "line" && s.points.length > 0);
  const points = series.filter((s) => s.kind === "points" || s.kind === "bars");
  const tables: PlotTable[] = [];
  if (lines.length > 0)
    tables.push({
      head: [x.label, ...lines.map((s) => `${s.label}: ${y.label}`)],
      rows: placesOf(x)
        .map((at) => ({ at, values: lines.map((s) => valueOf(s.points, at)) }))
        .filter(({ values }) => values.some((v) => v !== null))
        .map(({ at, values }) => [
          told(at, x.format),
          ...values.map((v) => (v === null ? "–" : told(v, y.format))),
        ]),
    });
  if (points.some((s) => s.points.length > 0))
    tables.push({
      head: ["What", x.label, y.label],
      rows: points
        .flatMap((s) => s.points.map(([px, py]) => [s.label, told(px, x.format), told(py, y.format)]))
        .slice(0, mostPoints),
    });
  if (marks.length > 0)
    tables.push({
      head: ["Line", "At"],
      rows: marks.map((m) => [m.label, told(m.value, (m.axis === "x" ? x : y).format)]),
    });
  return tables;
}
