"use client";
import { useCallback, useRef } from "react";
import { themeColor, useRedraw } from "../../shared/canvas";
import { TableBehind } from "../../shared/TableBehind";
import { stackTable } from "./stackTable";
import type { StrokeStack as Stack } from "../../../core/hits/stack";

/** dB under the loudest stroke that is drawn as the ground. */
const depth = 54;

interface Props {
  readonly stack: Stack;
  /** Rows of the stack from top to bottom. */
  readonly order: readonly number[];
  /** When each row of the stack is, s. */
  readonly times: readonly number[];
  readonly color: string;
  /** Row that is chosen; -1: none. */
  readonly chosen: number;
  readonly caption: string;
  readonly onChoose: (row: number) => void;
}

function rgb(canvas: HTMLCanvasElement, name: string): [number, number, number] {
  const probe = document.createElement("canvas").getContext("2d")!;
  probe.fillStyle = themeColor(canvas, name) || "#000";
  probe.fillRect(0, 0, 1, 1);
  const [r, g, b] = probe.getImageData(0, 0, 1, 1).data;
  return [r!, g!, b!];
}

function draw(canvas: HTMLCanvasElement, { stack, order, color, chosen }: Props): void {
  const ratio = window.devicePixelRatio || 1;
  const width = Math.round(canvas.clientWidth * ratio);
  const height = Math.round(canvas.clientHeight * ratio);
  if (width === 0 || height === 0) return;
  canvas.width = width;
  canvas.height = height;
  const ctx = canvas.getContext("2d")!;
  const image = ctx.createImageData(width, height);
  const [ink, ground] = [rgb(canvas, color), rgb(canvas, "ground")];
  const top = stack.levels.reduce((most, v) => Math.max(most, v), -120);
  for (let y = 0; y < height; y++) {
    const row = order[Math.floor((y / height) * order.length)];
    if (row === undefined) continue;
    for (let x = 0; x < width; x++) {
      const column = Math.floor((x / width) * stack.columns);
      const level = stack.levels[row * stack.columns + column]!;
      const share = Math.min(1, Math.max(0, 1 + (level - top) / depth)) ** 1.4;
      const at = 4 * (y * width + x);
      for (let c = 0; c < 3; c++) image.data[at + c] = ground[c]! + share * (ink[c]! - ground[c]!);
      image.data[at + 3] = 255;
    }
  }
  ctx.putImageData(image, 0, 0);
  const onset = (-stack.from / stack.step / stack.columns) * width;
  ctx.fillStyle = themeColor(canvas, "ink");
  ctx.fillRect(onset, 0, ratio, height);
  const place = order.indexOf(chosen);
  if (place >= 0) {
    const tall = Math.max(3 * ratio, height / order.length);
    ctx.strokeStyle = themeColor(canvas, "accent");
    ctx.lineWidth = 2 * ratio;
    ctx.strokeRect(ratio, (place / order.length) * height - ratio, width - 2 * ratio, tall + 2 * ratio);
  }
}

/** All strokes of a drum, one under the other, brought to their starts: the darker, the louder. */
export function StrokeStack(props: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { order, caption, onChoose, stack, times } = props;
  const redraw = useCallback(() => {
    if (canvas.current) draw(canvas.current, props);
  }, [props]);
  useRedraw(canvas, redraw);
  const ticks = [-20, 0, 20, 40, 60, 80, 100, 120];
  const end = stack.from + stack.columns * stack.step;
  return (
    <div className="stroke-stack">
      <canvas
        ref={canvas}
        role="img"
        aria-label={caption}
        onClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          const row = order[Math.floor(((event.clientY - box.top) / box.height) * order.length)];
          if (row !== undefined) onChoose(row);
        }}
      />
      <div className="ticks" aria-hidden>
        {ticks.map((t) => (
          <span key={t} style={{ left: `${(100 * (t / 1000 - stack.from)) / (end - stack.from)}%` }}>
            {String(t).replace("-", "−")}
          </span>
        ))}
      </div>
      <TableBehind caption={caption} tables={() => [stackTable(stack, order, times)]} />
      <p className="axis">Time from the start of the stroke, ms</p>
    </div>
  );
}
