import { Chart, type ChartDataset } from "chart.js";
import { annotationsOf } from "./annotations";
import { colorOf } from "./color";
import { toldWhole } from "./told";
import type { AxisSpec, PlotProps, Series } from "./types";

/** Points that do not ascend: what lies near a place is then not looked up by halves. */
const unsorted = ({ points }: Series): boolean => points.some(([x], i) => i > 0 && x < points[i - 1]![0]);

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
    ...(unsorted(s) ? { parsing: { xAxisKey: "x", yAxisKey: "y" } } : {}),
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

/** Draws a moving line over a chart, in the chart's scales. */
export function drawMoving(
  sheet: HTMLCanvasElement,
  chart: Chart<"line">,
  points: Series["points"] | null,
): void {
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

/** What is told of the place under the pointer: the value there, in the words of the axes. */
const tooltipOf = (canvas: HTMLCanvasElement, { x, y }: PlotProps) => ({
  backgroundColor: colorOf(canvas, "paper"),
  borderColor: colorOf(canvas, "line-strong"),
  borderWidth: 1,
  titleColor: colorOf(canvas, "ink-soft"),
  bodyColor: colorOf(canvas, "ink"),
  titleFont: { size: 12, weight: 400 as const },
  bodyFont: { size: 12 },
  cornerRadius: 2,
  displayColors: false,
  caretSize: 0,
  callbacks: {
    title([item]: readonly { parsed: { x: number | null } }[]) {
      if (!item) return "";
      const { of, text } = toldWhole(x, item.parsed.x!);
      return `${of} ${text}`;
    },
    label({ dataset, parsed }: { dataset: { label?: string }; parsed: { y: number | null } }) {
      const { text } = toldWhole(y, parsed.y!);
      return text === dataset.label ? text : `${dataset.label}: ${text}`;
    },
  },
});

/** Gives a chart its series, scales, and the lines of settings. */
export function draw(chart: Chart<"line">, props: PlotProps): void {
  const { canvas, options } = chart;
  chart.data.datasets = props.series.map((s) => datasetOf(canvas, s));
  options.scales = {
    x: scaleOf(canvas, props.x),
    y: scaleOf(canvas, props.y),
  } as unknown as NonNullable<typeof options.scales>;
  options.plugins = {
    ...options.plugins,
    tooltip: tooltipOf(canvas, props),
    annotation: { annotations: annotationsOf(canvas, props.marks ?? []) },
  };
  chart.update("none");
}
