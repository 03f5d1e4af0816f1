"use client";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Placed } from "./placed";
import { told } from "./told";
import type { AxisSpec, PlotProps } from "./types";

/** Value of an axis at a place of the plot, within its range. */
export type ValueAt = (axis: "x" | "y", pixel: number) => number;

/** Steps of the arrow keys over the whole of an axis, and how much finer they are with the shift key. */
const steps = 120;
const finer = 5;

/** A value one step further along an axis. */
export function stepped(axis: AxisSpec, value: number, by: number): number {
  const next =
    axis.log && axis.min > 0
      ? value * (axis.max / axis.min) ** (by / steps)
      : value + (by * (axis.max - axis.min)) / steps;
  return Math.min(axis.max, Math.max(axis.min, next));
}

interface Props {
  readonly placed: readonly Placed[];
  readonly plot: PlotProps;
  readonly valueAt: ValueAt;
}

/** What is dragged in a plot as sliders, lines over their whole length: by pointer, and by the arrow keys (shift: finer). */
export function Grips({ placed, plot, valueAt }: Props) {
  const held = useRef<string | null>(null);
  /** Hands a value to what is dragged. */
  const hand = ({ kind, id }: Placed, x: number, y: number, done: boolean) => {
    if (kind === "both") plot.handles?.find((h) => h.id === id)?.drag(x, y, done);
    else plot.marks?.find((m) => m.id === id)?.drag?.(kind === "x" ? x : y, done);
  };
  const follow = (grip: Placed, event: PointerEvent<HTMLElement>, done: boolean) => {
    if (held.current !== grip.id) return;
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    hand(grip, valueAt("x", event.clientX - box.left), valueAt("y", event.clientY - box.top), done);
    if (done) held.current = null;
  };
  const key = (grip: Placed, now: { x: number; y: number }, event: KeyboardEvent) => {
    const by = event.shiftKey ? 1 / finer : 1;
    const moves = {
      ArrowRight: [by, 0],
      ArrowLeft: [-by, 0],
      ArrowUp: [0, by],
      ArrowDown: [0, -by],
    } as const;
    const move = moves[event.key as keyof typeof moves];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    // A line moves along its one axis by either pair of keys.
    const [dx, dy] =
      grip.kind === "x" ? [move[0] + move[1], 0] : grip.kind === "y" ? [0, move[0] + move[1]] : move;
    hand(grip, stepped(plot.x, now.x, dx), stepped(plot.y, now.y, dy), true);
  };
  return placed.map((grip) => {
    const handle = grip.kind === "both" ? plot.handles?.find((h) => h.id === grip.id) : undefined;
    const mark = grip.kind === "both" ? undefined : plot.marks?.find((m) => m.id === grip.id);
    if (!handle && !mark) return null;
    const now = handle ?? { x: mark!.value, y: mark!.value };
    const axis = grip.kind === "x" ? plot.x : plot.y;
    const value = grip.kind === "x" ? now.x : now.y;
    const text = handle ? `${told(plot.x, now.x)}; ${told(plot.y, now.y)}` : told(axis, value);
    return (
      <span
        key={`${grip.kind} ${grip.id}`}
        role="slider"
        tabIndex={0}
        className={`plot-grip ${grip.kind}`}
        style={
          {
            left: grip.left,
            top: grip.top,
            width: grip.width,
            height: grip.height,
            "--grip": `var(--${handle?.color ?? mark?.color ?? "accent"})`,
          } as React.CSSProperties
        }
        aria-label={handle ? (handle.name ?? handle.label) : mark!.label || mark!.id}
        aria-orientation={grip.kind === "x" ? "horizontal" : "vertical"}
        aria-valuemin={axis.min}
        aria-valuemax={axis.max}
        aria-valuenow={Number(value.toPrecision(4))}
        aria-valuetext={text}
        onPointerDown={(event) => {
          held.current = grip.id;
          event.currentTarget.setPointerCapture(event.pointerId);
        }}
        onPointerMove={(event) => follow(grip, event, false)}
        onPointerUp={(event) => follow(grip, event, true)}
        onPointerCancel={() => (held.current = null)}
        onKeyDown={(event) => key(grip, now, event)}
      >
        {handle?.label}
      </span>
    );
  });
}
