"use client";
import { useEffect, useMemo, useRef } from "react";
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
  type ChartDataset,
  type Plugin,
} from "chart.js";
import { themeColor } from "./canvas";

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

export interface Series {
  readonly label: string;
  readonly points: readonly (readonly [number, number])[];
  /** Name of a colour of the theme, without the dashes: "ink", "snare" … */
  readonly color: string;
  readonly kind?: "line" | "points" | "bars";
  readonly dashed?: boolean;
  readonly width?: number;
  readonly fill?: boolean;
  readonly radius?: number;
  /** Where bars begin. */
  readonly base?: number;
  readonly shape?: "circle" | "triangle" | "rect" | "cross";
}
export interface AxisSpec {
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly log?: boolean;
  readonly ticks?: readonly number[];
  readonly format?: (value: number) => string;
}
/** A line across the plot that stands for a setting. */
export interface Mark {
  readonly id: string;
  readonly axis: "x" | "y";
  readonly value: number;
  readonly label: string;
  readonly color?: string;
  readonly dashed?: boolean;
  readonly drag?: (value: number, done: boolean) => void;
}
/** A point that is dragged in both directions. */
export interface Handle {
  readonly id: string;
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly color?: string;
  readonly drag: (x: number, y: number, done: boolean) => void;
}
/** Tells a line that moves while it plays: calls `draw` whenever it has moved, null where there is none; returns how to stop it. */
export type Moving = (draw: (points: Series["points"] | null) => void) => () => void;

interface Props {
  /** What the picture shows, for those who do not see it. */
  readonly caption: string;
  readonly series: readonly Series[];
  readonly moving?: Moving | undefined;
  readonly x: AxisSpec;
  readonly y: AxisSpec;
  readonly marks?: readonly Mark[];
  readonly handles?: readonly Handle[];
  readonly onPoint?: (series: number, index: number) => void;
  readonly height?: number | string;
}

const colorOf = (canvas: HTMLCanvasElement, name: string): string => themeColor(canvas, name) || name;

function datasetOf(canvas: HTMLCanvasElement, s: Series): ChartDataset<"line"> {
  const color = colorOf(canvas, s.color);
  const points = s.kind === "points";
  return {
    type: s.kind === "bars" ? "bar" : "line",
    label: s.label,
    data: s.points.map(([x, y]) => ({ x, y })),
    borderColor: color,
    backgroundColor: s.fill || s.kind === "bars" ? `color-mix(in srgb, ${color} 22%, transparent)` : color,
    borderWidth: points ? 1 : (s.width ?? 1.75),
    borderDash: s.dashed ? [5, 4] : [],
    fill: s.fill ? "start" : false,
    showLine: !points,
    pointRadius: points ? (s.radius ?? 3) : 0,
    pointHitRadius: points ? 6 : 0,
    pointStyle: s.shape ?? "circle",
    tension: 0,
    barThickness: "flex",
    ...(s.base === undefined ? {} : { base: s.base }),
  } as unknown as ChartDataset<"line">;
}

const scaleOf = (canvas: HTMLCanvasElement, axis: AxisSpec) => ({
  type: axis.log ? ("logarithmic" as const) : ("linear" as const),
  min: axis.min,
  max: axis.max,
  title: { display: true, text: axis.label, color: colorOf(canvas, "ink-soft"), font: { size: 12 } },
  grid: { color: colorOf(canvas, "line"), tickLength: 4 },
  border: { color: colorOf(canvas, "line-strong") },
  ticks: {
    color: colorOf(canvas, "ink-soft"),
    font: { size: 11 },
    maxRotation: 0,
    autoSkipPadding: 12,
    callback: (value: number | string) =>
      axis.format ? axis.format(Number(value)) : String(Number(Number(value).toFixed(6))).replace("-", "−"),
  },
  afterBuildTicks: axis.ticks
    ? (scale: { ticks: { value: number }[] }) => {
        scale.ticks = axis.ticks!.map((value) => ({ value }));
      }
    : () => {},
});

/** Draws marks and handles over the chart. */
function overlay(current: () => Props): Plugin<"line"> {
  return {
    id: "overlay",
    afterDatasetsDraw(chart) {
      const { ctx, chartArea: area, canvas } = chart;
      const { marks = [], handles = [] } = current();
      if (!chart.scales["x"] || !chart.scales["y"]) return; // the first, empty drawing
      ctx.save();
      ctx.font = `600 12px ${getComputedStyle(canvas).fontFamily}`;
      marks.forEach((m, i) => {
        const color = colorOf(canvas, m.color ?? "accent");
        const at = chart.scales[m.axis]!.getPixelForValue(m.value);
        ctx.strokeStyle = color;
        ctx.fillStyle = color;
        ctx.lineWidth = 2;
        ctx.setLineDash(m.dashed ? [5, 4] : []);
        ctx.beginPath();
        if (m.axis === "x") {
          ctx.moveTo(at, area.top);
          ctx.lineTo(at, area.bottom);
        } else {
          ctx.moveTo(area.left, at);
          ctx.lineTo(area.right, at);
        }
        ctx.stroke();
        ctx.setLineDash([]);
        const wide = ctx.measureText(m.label).width;
        const x =
          m.axis === "x"
            ? Math.min(area.right - wide - 4, Math.max(area.left + 2, at + 6))
            : area.right - wide - 6;
        const y = m.axis === "x" ? area.top + 14 + 17 * (i % 3) : Math.max(area.top + 12, at - 6);
        if (m.label) {
          ctx.fillStyle = colorOf(canvas, "paper");
          ctx.fillRect(x - 3, y - 12, wide + 6, 16);
        }
        ctx.fillStyle = color;
        ctx.fillText(m.label, x, y);
        if (m.drag) {
          ctx.beginPath();
          if (m.axis === "x") ctx.roundRect(at - 4, area.bottom - 22, 8, 20, 4);
          else ctx.roundRect(area.left + 2, at - 4, 20, 8, 4);
          ctx.fill();
        }
      });
      for (const h of handles) {
        const x = chart.scales["x"]!.getPixelForValue(h.x);
        const y = chart.scales["y"]!.getPixelForValue(h.y);
        ctx.fillStyle = colorOf(canvas, h.color ?? "accent");
        ctx.strokeStyle = colorOf(canvas, "paper");
        ctx.lineWidth = 2;
        ctx.beginPath();
        ctx.roundRect(x - 8, y - 8, 16, 16, 5);
        ctx.fill();
        ctx.stroke();
        ctx.fillStyle = colorOf(canvas, "paper");
        ctx.textAlign = "center";
        ctx.fillText(h.label, x, y + 4.5);
        ctx.textAlign = "start";
      }
      ctx.restore();
    },
  };
}

type Grip = { kind: "mark"; id: string } | { kind: "handle"; id: string };

function gripAt(chart: Chart, props: Props, px: number, py: number): Grip | null {
  if (!chart.scales["x"] || !chart.scales["y"]) return null;
  for (const h of props.handles ?? []) {
    const dx = chart.scales["x"]!.getPixelForValue(h.x) - px;
    const dy = chart.scales["y"]!.getPixelForValue(h.y) - py;
    if (Math.hypot(dx, dy) < 13) return { kind: "handle", id: h.id };
  }
  let best: { id: string; far: number } | null = null;
  for (const m of props.marks ?? []) {
    if (!m.drag) continue;
    const far = Math.abs(chart.scales[m.axis]!.getPixelForValue(m.value) - (m.axis === "x" ? px : py));
    if (far < 9 && (!best || far < best.far)) best = { id: m.id, far };
  }
  return best && { kind: "mark", id: best.id };
}

/** A chart with settings in it that can be dragged. */
export function Plot(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<"line"> | null>(null);
  const latest = useRef(props);
  useEffect(() => {
    latest.current = props;
  });
  const { series, x, y, marks, handles } = props;
  const plugin = useMemo(() => overlay(() => latest.current), []);

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

  const pointer = useRef<Grip | null>(null);
  const place = (event: React.PointerEvent): [number, number] => {
    const box = canvas.current!.getBoundingClientRect();
    return [event.clientX - box.left, event.clientY - box.top];
  };
  const drag = (event: React.PointerEvent, done: boolean) => {
    const grip = pointer.current;
    const made = chart.current;
    if (!grip || !made) return;
    const [px, py] = place(event);
    const value = (axis: "x" | "y", p: number) => {
      const v = made.scales[axis]!.getValueForPixel(p)!;
      const spec = latest.current[axis];
      return Math.min(spec.max, Math.max(spec.min, v));
    };
    if (grip.kind === "handle")
      latest.current.handles!.find((h) => h.id === grip.id)?.drag(value("x", px), value("y", py), done);
    else {
      const mark = latest.current.marks!.find((m) => m.id === grip.id);
      mark?.drag?.(value(mark.axis, mark.axis === "x" ? px : py), done);
    }
  };
  return (
    <div className="plot" style={{ height: props.height ?? "100%" }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={props.caption}
        onPointerDown={(event) => {
          const [px, py] = place(event);
          pointer.current = gripAt(chart.current!, props, px, py);
          if (pointer.current) canvas.current!.setPointerCapture(event.pointerId);
          else if (props.onPoint) {
            const hit = chart.current!.getElementsAtEventForMode(
              event.nativeEvent,
              "nearest",
              { intersect: true },
              true,
            )[0];
            if (hit) props.onPoint(hit.datasetIndex, hit.index);
          }
        }}
        onPointerMove={(event) => {
          if (pointer.current) drag(event, false);
          else {
            const grip = gripAt(chart.current!, props, ...place(event));
            const mark = props.marks?.find((m) => m.id === grip?.id);
            canvas.current!.style.cursor = !grip
              ? props.onPoint
                ? "pointer"
                : "default"
              : grip.kind === "handle"
                ? "grab"
                : mark?.axis === "x"
                  ? "ew-resize"
                  : "ns-resize";
          }
        }}
        onPointerUp={(event) => {
          drag(event, true);
          pointer.current = null;
        }}
        onPointerCancel={() => (pointer.current = null)}
      />
      {moving && <canvas ref={sheet} className="moving" aria-hidden />}
    </div>
  );
}

/** Draws a moving line over a chart, in the chart's scales. */
function drawMoving(sheet: HTMLCanvasElement, chart: Chart<"line">, points: Series["points"] | null): void {
  const ratio = devicePixelRatio;
  const [width, height] = [Math.round(chart.width * ratio), Math.round(chart.height * ratio)];
  if (sheet.width !== width || sheet.height !== height) Object.assign(sheet, { width, height });
  const ctx = sheet.getContext("2d")!;
  ctx.setTransform(ratio, 0, 0, ratio, 0, 0);
  ctx.clearRect(0, 0, chart.width, chart.height);
  const { x, y } = chart.scales;
  if (!points || !x || !y) return;
  const { left, top, right, bottom } = chart.chartArea;
  ctx.save();
  ctx.beginPath();
  ctx.rect(left, top, right - left, bottom - top);
  ctx.clip();
  ctx.beginPath();
  points.forEach(([px, py], i) => {
    if (i === 0) ctx.moveTo(x.getPixelForValue(px), y.getPixelForValue(py));
    else ctx.lineTo(x.getPixelForValue(px), y.getPixelForValue(py));
  });
  ctx.strokeStyle = colorOf(sheet, "ink");
  ctx.lineWidth = 1.5;
  ctx.stroke();
  ctx.restore();
}

function draw(chart: Chart<"line">, props: Props): void {
  const { canvas } = chart;
  chart.data.datasets = props.series.map((s) => datasetOf(canvas, s));
  chart.options.scales = {
    x: scaleOf(canvas, props.x),
    y: scaleOf(canvas, props.y),
  } as unknown as NonNullable<typeof chart.options.scales>;
  chart.update("none");
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
