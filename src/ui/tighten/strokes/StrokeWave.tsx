"use client";
import { useCallback, useRef, useState } from "react";
import type { Hit, Mic } from "../../../core/song/song";
import { sheetOf, useRedraw } from "../../shared/canvas";
import { useEvidence } from "../../shared/evidenceClient";

/** Stretch around a stroke that is drawn, s. */
const before = 0.06;
const after = 0.14;
const near = 8; // px within which the start is taken hold of

interface Props {
  readonly mic: Mic;
  /** Where to look, s. */
  readonly time: number;
  readonly hits: readonly Hit[];
  readonly color: string;
  readonly sampleRate: number;
  readonly onMove: (to: number) => void;
  readonly onAdd: (at: number) => void;
}

function draw(
  canvas: HTMLCanvasElement,
  wave: Float32Array,
  { time, hits, color }: Props,
  moved: number | null,
): void {
  const { ctx, width, height, color: css } = sheetOf(canvas);
  const peak = wave.reduce((most, v) => Math.max(most, Math.abs(v)), 1e-6);
  const x = (t: number) => ((t - time + before) / (before + after)) * width;
  ctx.strokeStyle = css("line-strong");
  ctx.beginPath();
  ctx.moveTo(0, height / 2);
  ctx.lineTo(width, height / 2);
  ctx.stroke();
  ctx.strokeStyle = css(color);
  ctx.lineWidth = 1;
  ctx.beginPath();
  const per = wave.length / width;
  for (let p = 0; p < width; p++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = Math.floor(p * per); i <= Math.floor((p + 1) * per) && i < wave.length; i++) {
      low = Math.min(low, wave[i]!);
      high = Math.max(high, wave[i]!);
    }
    const y = (v: number) => height / 2 - (v / peak) * (height / 2 - 4);
    ctx.moveTo(p + 0.5, y(high));
    ctx.lineTo(p + 0.5, y(low) + 0.5);
  }
  ctx.stroke();
  for (const h of hits) {
    const own = Math.abs(h.time - time) < 1e-6;
    ctx.fillStyle = css(own ? "accent" : "ink-soft");
    ctx.fillRect(x(own && moved !== null ? moved : h.time) - 1, 0, own ? 2.5 : 1.5, height);
  }
}

/** The recording around one stroke: its start is dragged to where it belongs, a double click adds a stroke. */
export function StrokeWave(props: Props) {
  const { mic, time, hits, sampleRate, onMove, onAdd } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const [moved, setMoved] = useState<number | null>(null);
  const late = mic.lateBy / sampleRate;
  const from = Math.round((time + late - before) * sampleRate);
  const to = Math.round((time + late + after) * sampleRate);
  const wave = useEvidence("wave", `${mic.audio} ${mic.start} ${from}`, {
    mic: { audio: mic.audio!, start: mic.start },
    from,
    to,
  });
  const redraw = useCallback(() => {
    if (canvas.current && wave.value) draw(canvas.current, wave.value, props, moved);
  }, [wave.value, props, moved]);
  useRedraw(canvas, redraw);
  const timeAt = (clientX: number): number => {
    const box = canvas.current!.getBoundingClientRect();
    return time - before + ((clientX - box.left) / box.width) * (before + after);
  };
  const own = hits.some((h) => Math.abs(h.time - time) < 1e-6);
  return (
    <canvas
      ref={canvas}
      className="stroke-wave"
      role="img"
      aria-label={`Recording around ${time.toFixed(3)} s; drag the line to move the start of the stroke, double click to add one`}
      onPointerDown={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const at = box.left + (before / (before + after)) * box.width;
        if (!own || Math.abs(event.clientX - at) > near) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setMoved(time);
      }}
      onPointerMove={(event) => moved !== null && setMoved(timeAt(event.clientX))}
      onPointerUp={(event) => {
        if (moved === null) return;
        const place = timeAt(event.clientX);
        setMoved(null);
        if (Math.abs(place - time) > 0.0002) onMove(Math.max(0, place));
      }}
      onPointerCancel={() => setMoved(null)}
      onDoubleClick={(event) => onAdd(Math.max(0, timeAt(event.clientX)))}
    />
  );
}
