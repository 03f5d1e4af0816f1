import type { Chart, Plugin } from "chart.js";
import { colorOf } from "./chart";
import type { Mark, PlotProps } from "./types";

/** Rows in which labels of upright lines stand, so that neighbours do not cover each other. */
const rows = 3;

function drawMark(chart: Chart, mark: Mark, index: number): void {
  const { ctx, chartArea: area, canvas } = chart;
  const upright = mark.axis === "x";
  const at = chart.scales[mark.axis]!.getPixelForValue(mark.value);
  const color = colorOf(canvas, mark.color ?? "accent");
  ctx.strokeStyle = color;
  ctx.lineWidth = 2;
  ctx.setLineDash(mark.dashed ? [5, 4] : []);
  ctx.beginPath();
  ctx.moveTo(upright ? at : area.left, upright ? area.top : at);
  ctx.lineTo(upright ? at : area.right, upright ? area.bottom : at);
  ctx.stroke();
  ctx.setLineDash([]);
  if (!mark.label) return;
  const wide = ctx.measureText(mark.label).width;
  const x = upright
    ? Math.min(area.right - wide - 4, Math.max(area.left + 2, at + 6))
    : area.right - wide - 6;
  const y = upright ? area.top + 14 + 17 * (index % rows) : Math.max(area.top + 12, at - 6);
  ctx.fillStyle = colorOf(canvas, "paper");
  ctx.fillRect(x - 3, y - 12, wide + 6, 16);
  ctx.fillStyle = color;
  ctx.fillText(mark.label, x, y);
}

/** Draws the lines of marks over the chart, and tells where its scales lie when it is drawn. */
export const overlay = (current: () => PlotProps, drawn: (chart: Chart<"line">) => void): Plugin<"line"> => ({
  id: "overlay",
  afterDatasetsDraw(chart) {
    if (!chart.scales["x"] || !chart.scales["y"]) return; // the first, empty drawing
    const { ctx, canvas } = chart;
    ctx.save();
    ctx.font = `600 12px ${getComputedStyle(canvas).fontFamily}`;
    (current().marks ?? []).forEach((mark, i) => drawMark(chart, mark, i));
    ctx.restore();
  },
  afterDraw: (chart) => drawn(chart),
});
