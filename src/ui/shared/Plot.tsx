"use client";
import { useEffect, useRef, useState } from "react";
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
  type ChartEvent,
  type Plugin,
} from "chart.js";
import annotation from "chartjs-plugin-annotation";
import { sameValue } from "../../core/sameValue";
import { draw, drawMoving } from "./plot/chart";
import { Grips } from "./plot/Grips";
import { placedIn, type Placed } from "./plot/placed";
import { plotTables } from "./plot/plotTable";
import { TableBehind } from "./TableBehind";
import type { AxisSpec, PlotProps, Series } from "./plot/types";

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
  annotation,
);

/** Value of an axis at a place of the chart, px, within what is shown. */
function valueAt(chart: Chart, { x, y }: PlotProps, axis: "x" | "y", pixel: number): number {
  const { min, max } = axis === "x" ? x : y;
  return Math.min(max, Math.max(min, chart.scales[axis]!.getValueForPixel(pixel)!));
}

/** Tells where a chart's scales lie when it is drawn: what is dragged in it lies over them. */
const whenDrawn = (drawn: (chart: Chart<"line">) => void): Plugin<"line"> => ({
  id: "whenDrawn",
  afterDraw: drawn,
});

/** A chart on a canvas, drawn anew when what it shows or the theme changes, and where things are dragged in it. */
function useChart(props: PlotProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<"line"> | null>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  const [placed, setPlaced] = useState<readonly Placed[]>([]);
  useEffect(() => {
    const made = new Chart<"line">(canvas.current!, {
      type: "line",
      data: { datasets: [] },
      options: {
        animation: false,
        responsive: true,
        maintainAspectRatio: false,
        parsing: false,
        normalized: true,
        layout: { padding: { top: 4, right: 8 } },
        interaction: { mode: "nearest", axis: "xy", intersect: false },
        plugins: { legend: { display: false } },
        events: ["mousemove", "mouseout", "click"],
        onHover: (event, _, { canvas: under }) => {
          const clickable = latest.current.onPoint && pointAt(made, event);
          under.style.cursor = clickable ? "pointer" : "default";
        },
        onClick: (event) => {
          const hit = pointAt(made, event);
          if (hit) latest.current.onPoint?.(hit.datasetIndex, hit.index);
        },
      },
      plugins: [
        whenDrawn((drawn) => {
          const now = placedIn(drawn, latest.current);
          setPlaced((before) => (sameValue(before, now) ? before : now));
        }),
      ],
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
  }, []);
  const { series, x, y, marks, handles } = props;
  useEffect(() => {
    if (chart.current) draw(chart.current, latest.current);
  }, [series, x, y, marks, handles]);
  return { canvas, chart, placed };
}

/** The point of a series under the pointer. */
const pointAt = (chart: Chart<"line">, { native }: ChartEvent) =>
  native ? chart.getElementsAtEventForMode(native, "nearest", { intersect: true }, true)[0] : undefined;

/** A chart with settings in it that can be dragged. */
export function Plot(props: PlotProps) {
  const { canvas, chart, placed } = useChart(props);
  const { caption, series, x, y, marks, moving } = props;
  // Drawn on a sheet of its own, so that the chart stands still under it.
  const sheet = useRef<HTMLCanvasElement>(null);
  useEffect(
    () =>
      moving?.((points) => {
        if (sheet.current && chart.current) drawMoving(sheet.current, chart.current, points);
      }),
    [moving, chart],
  );
  return (
    <div className="plot" style={{ height: props.height ?? "100%" }}>
      <canvas ref={canvas} role="img" aria-label={caption} />
      {moving && <canvas ref={sheet} className="moving" aria-hidden />}
      <Grips
        placed={placed}
        plot={props}
        valueAt={(axis, pixel) => valueAt(chart.current!, props, axis, pixel)}
      />
      <TableBehind caption={caption} tables={() => plotTables(series, x, y, marks)} />
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
