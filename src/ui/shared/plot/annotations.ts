import type { Chart } from "chart.js";
import type { AnnotationOptions } from "chartjs-plugin-annotation";
import { colorOf } from "./color";
import type { Mark } from "./types";

/** Rows in which labels of upright lines stand, so that neighbours do not cover each other, and their distance, px. */
const rows = 3;
const rowHeight = 17;
/** From an upright line to its label, px. */
const beside = 4;

/**
 * How far an upright line's label is moved, px, so that it stands to the right of it, or to the left where the picture ends.
 * The plugin puts it on the line, or as near to it as it is whole.
 */
function besideLine({ ctx, chartArea, scales }: Chart, { label, value }: Mark, font: string): number {
  ctx.save();
  ctx.font = font;
  const half = ctx.measureText(label).width / 2 + beside;
  ctx.restore();
  const line = scales["x"]!.getPixelForValue(value);
  const { left, right } = chartArea;
  const put = Math.max(left + beside + half, Math.min(right - beside - half, line));
  return line + (2 * half > right - line ? -1 : 1) * (half + beside) - put;
}

/** Labels of level lines stand above them, or below where those of upright lines are. */
function besideLevel({ chartArea, scales }: Chart, { value }: Mark): number {
  const fromTop = scales["y"]!.getPixelForValue(value) - chartArea.top;
  const off = rowHeight / 2 + 2;
  return fromTop < rows * rowHeight ? off : -off;
}

/** The lines that stand for settings, as annotations of a chart, by their ids. */
export function annotationsOf(
  canvas: HTMLCanvasElement,
  marks: readonly Mark[],
): Record<string, AnnotationOptions> {
  const font = { size: 12, weight: 600, family: getComputedStyle(canvas).fontFamily } as const;
  const written = `${font.weight} ${font.size}px ${font.family}`;
  return Object.fromEntries(
    marks.map((mark, i): [string, AnnotationOptions] => {
      const color = colorOf(canvas, mark.color ?? "accent");
      const upright = mark.axis === "x";
      return [
        mark.id,
        {
          type: "line",
          scaleID: mark.axis,
          value: mark.value,
          borderColor: color,
          borderWidth: 2,
          borderDash: mark.dashed ? [5, 4] : [],
          label: {
            display: mark.label !== "",
            content: mark.label,
            z: 1, // over all lines
            position: upright ? "start" : "end",
            color,
            backgroundColor: colorOf(canvas, "paper"),
            padding: { x: beside, y: 2 },
            borderRadius: 0,
            font,
            xAdjust: ({ chart }) => (upright ? besideLine(chart, mark, written) : 0),
            yAdjust: ({ chart }) => (upright ? rowHeight * (i % rows) : besideLevel(chart, mark)),
          },
        },
      ];
    }),
  );
}
