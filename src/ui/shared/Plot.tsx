"use client";
import { useEffect, useMemo, useRef, useState } from "react";
import {
  BarController,
  BarElement,
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PointElement,
  ScatterController,
  Tooltip,
} from "chart.js";
import { draw, drawMoving } from "./plot/chart";
import { Grips, type Placed } from "./plot/Grips";
import { overlay } from "./plot/overlay";
import { plotTables } from "./plot/plotTable";
import { TableBehind } from "./TableBehind";
import type { AxisSpec, Mark, PlotProps, Series } from "./plot/types";

export type { AxisSpec, Handle, Mark, Moving, Series } from "./plot/types";

Chart.register(
  LineController,
  LineElement,
  PointElement,
  LinearScale,
  LogarithmicScale,
  ScatterController,
  BarController,
  BarElement,
  Filler,
  Tooltip,
);

/** The line that is dragged nearest to a place, px. */
function lineAt(chart: Chart, marks: readonly Mark[], px: number, py: number): Mark | null {
  if (!chart.scales["x"] || !chart.scales["y"]) return null;
  let best: { mark: Mark; far: number } | null = null;
  for (const mark of marks) {
    if (!mark.drag) continue;
    const at = chart.scales[mark.axis]!.getPixelForValue(mark.value);
    const far = Math.abs(at - (mark.axis === "x" ? px : py));
    if (far < 9 && (!best || far < best.far)) best = { mark, far };
  }
  return best?.mark ?? null;
}

/** Where everything that is dragged lies: lines by a grip at their end, handles where they are. */
function gripsOf({ scales, chartArea }: Chart, { marks = [], handles = [] }: PlotProps): Placed[] {
  const { x, y } = scales;
  if (!x || !y) return [];
  const round = (px: number) => Math.round(10 * px) / 10;
  return [
    ...marks.flatMap((m): Placed[] => {
      if (!m.drag) return [];
      const [left, top] =
        m.axis === "x"
          ? [x.getPixelForValue(m.value), chartArea.bottom - 12]
          : [chartArea.left + 12, y.getPixelForValue(m.value)];
      return [{ kind: m.axis, id: m.id, left: round(left), top: round(top) }];
    }),
    ...handles.map((h): Placed => ({
      kind: "both",
      id: h.id,
      left: round(x.getPixelForValue(h.x)),
      top: round(y.getPixelForValue(h.y)),
    })),
  ];
}

/** Value of an axis at a place of the chart, px, within what is shown. */
function valueAt(chart: Chart, { x, y }: PlotProps, axis: "x" | "y", pixel: number): number {
  const { min, max } = axis === "x" ? x : y;
  return Math.min(max, Math.max(min, chart.scales[axis]!.getValueForPixel(pixel)!));
}

/** A chart with settings in it that can be dragged. */
export function Plot(props: PlotProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<"line"> | null>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  const { series, x, y, marks, handles } = props;
  const [placed, setPlaced] = useState<readonly Placed[]>([]);
  const plugin = useMemo(
    () =>
      overlay(
        () => latest.current,
        (drawn) => {
          const now = gripsOf(drawn, latest.current);
          setPlaced((before) => (JSON.stringify(before) === JSON.stringify(now) ? before : now));
        },
      ),
    [],
  );

  useEffect(() => {
    const element = canvas.current!;
    const made = new Chart<"line">(element, {
      type: "line",
      data: { datasets: [] },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        parsing: false,
        normalized: true,
        layout: { padding: { top: 4, right: 8 } },
        plugins: { legend: { display: false }, tooltip: { enabled: false } },
        events: [],
      },
      plugins: [plugin],
    });
    chart.current = made;
    const dark = matchMedia("(prefers-color-scheme: dark)");
    const redraw = () => draw(made, latest.current);
    dark.addEventListener("change", redraw);
    return () => {
      dark.removeEventListener("change", redraw);
      made.destroy();
      chart.current = null;
    };
  }, [plugin]);

  useEffect(() => {
    if (chart.current) draw(chart.current, latest.current);
  }, [series, x, y, marks, handles]);

  // Drawn on a sheet of its own, so that the chart stands still under it.
  const sheet = useRef<HTMLCanvasElement>(null);
  const { moving } = props;
  useEffect(() => {
    if (!moving) return;
    return moving((points) => {
      if (sheet.current && chart.current) drawMoving(sheet.current, chart.current, points);
    });
  }, [moving]);

  /** The line that is held, by id. */
  const line = useRef<string | null>(null);
  const place = (event: React.PointerEvent): [number, number] => {
    const box = canvas.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const dragLine = (event: React.PointerEvent, done: boolean) => {
    const mark = latest.current.marks?.find((m) => m.id === line.current);
    if (!mark || !chart.current) return;
    const [px, py] = place(event);
    mark.drag?.(valueAt(chart.current, latest.current, mark.axis, mark.axis === "x" ? px : py), done);
  };
  /** A press on a point hands it on. */
  const press = (event: React.PointerEvent) => {
    const mark = lineAt(chart.current!, props.marks ?? [], ...place(event));
    line.current = mark?.id ?? null;
    if (mark) return canvas.current!.setPointerCapture(event.pointerId);
    if (!props.onPoint) return;
    const [hit] = chart.current!.getElementsAtEventForMode(
      event.nativeEvent,
      "nearest",
      { intersect: true },
      true,
    );
    if (hit) props.onPoint(hit.datasetIndex, hit.index);
  };
  const point = (event: React.PointerEvent) => {
    if (line.current !== null) return dragLine(event, false);
    const mark = lineAt(chart.current!, props.marks ?? [], ...place(event));
    const free = props.onPoint ? "pointer" : "default";
    canvas.current!.style.cursor = !mark ? free : mark.axis === "x" ? "ew-resize" : "ns-resize";
  };
  return (
    <div className="plot" style={{ height: props.height ?? "100%" }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={props.caption}
        onPointerDown={press}
        onPointerMove={point}
        onPointerUp={(event) => {
          dragLine(event, true);
          line.current = null;
        }}
        onPointerCancel={() => (line.current = null)}
      />
      {moving && <canvas ref={sheet} className="moving" aria-hidden />}
      <Grips
        placed={placed}
        plot={props}
        valueAt={(axis, pixel) => valueAt(chart.current!, latest.current, axis, pixel)}
      />
      <TableBehind caption={props.caption} tables={() => plotTables(series, x, y, marks)} />
    </div>
  );
}

/** The names of a plot's series beside their colours. */
export function Legend({ series, note }: { series: readonly Series[]; note?: string }) {
  return (
    <div className="legend">
      {series.map((s) => (
        <span key={s.label}>
          <i className={s.dashed ? "dashed" : ""} style={{ borderColor: `var(--${s.color})` }} aria-hidden />
          {s.label}
        </span>
      ))}
      {note && <span className="note">{note}</span>}
    </div>
  );
}

export const frequencyTicks = [30, 60, 100, 200, 400, 1000, 2000, 4000, 8000, 16000] as const;
export const frequencyAxis: AxisSpec = {
  label: "Frequency, Hz",
  min: 30,
  max: 18000,
  log: true,
  ticks: frequencyTicks,
  format: (v) => (v >= 1000 ? `${v / 1000}k` : String(v)),
};
