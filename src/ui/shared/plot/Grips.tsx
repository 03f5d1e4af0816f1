"use client";
import { useRef, type CSSProperties, type KeyboardEvent, type PointerEvent } from "react";
import type { Placed } from "./placed";
import { toldWhole } from "./told";
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

/** By how much the arrow keys move, in steps along both axes. */
const arrows: Readonly<Record<string, readonly [number, number]>> = {
  ArrowRight: [1, 0],
  ArrowLeft: [-1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

/** Where a key brings what is dragged; null: it moves nothing. A line moves along its one axis by either pair of keys. */
function movedBy(
  { key, shiftKey }: Pick<KeyboardEvent, "key" | "shiftKey">,
  kind: Placed["kind"],
  now: { readonly x: number; readonly y: number },
  { x, y }: Pick<PlotProps, "x" | "y">,
): { x: number; y: number } | null {
  const move = arrows[key];
  if (!move) return null;
  const [right, up] = move.map((n) => (shiftKey ? n / finer : n)) as [number, number];
  const both = right + up;
  return {
    x: stepped(x, now.x, kind === "x" ? both : kind === "y" ? 0 : right),
    y: stepped(y, now.y, kind === "y" ? both : kind === "x" ? 0 : up),
  };
}

/** One slider: a handle, or a line over its whole length. */
function Grip({ grip, plot, valueAt }: { grip: Placed } & Omit<Props, "placed">) {
  const held = useRef(false);
  const { kind, id, left, top, width, height } = grip;
  const handle = kind === "both" ? plot.handles?.find((h) => h.id === id) : undefined;
  const mark = kind === "both" ? undefined : plot.marks?.find((m) => m.id === id);
  if (!handle && !mark) return null;
  const now = handle ?? { x: mark!.value, y: mark!.value };
  const axis = kind === "x" ? plot.x : plot.y;
  const value = kind === "x" ? now.x : now.y;
  const hand = (x: number, y: number, done: boolean) =>
    handle ? handle.drag(x, y, done) : mark!.drag?.(kind === "x" ? x : y, done);
  const follow = (event: PointerEvent<HTMLElement>, done: boolean) => {
    if (!held.current) return;
    const box = event.currentTarget.parentElement!.getBoundingClientRect();
    hand(valueAt("x", event.clientX - box.left), valueAt("y", event.clientY - box.top), done);
    if (done) held.current = false;
  };
  const onKey = (event: KeyboardEvent) => {
    const next = movedBy(event, kind, now, plot);
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    hand(next.x, next.y, true);
  };
  const color = `var(--${handle?.color ?? mark?.color ?? "accent"})`;
  return (
    <span
      role="slider"
      tabIndex={0}
      className={`plot-grip ${kind}`}
      style={{ left, top, width, height, "--grip": color } as CSSProperties}
      aria-label={handle ? (handle.name ?? handle.label) : mark!.label || mark!.id}
      aria-orientation={kind === "x" ? "horizontal" : "vertical"}
      aria-valuemin={axis.min}
      aria-valuemax={axis.max}
      aria-valuenow={Number(value.toPrecision(4))}
      aria-valuetext={
        handle
          ? `${toldWhole(plot.x, now.x).text}; ${toldWhole(plot.y, now.y).text}`
          : toldWhole(axis, value).text
      }
      onPointerDown={(event) => {
        held.current = true;
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={(event) => follow(event, false)}
      onPointerUp={(event) => follow(event, true)}
      onPointerCancel={() => (held.current = false)}
      onKeyDown={onKey}
    >
      {handle?.label}
    </span>
  );
}

/** What is dragged in a plot as sliders: by pointer, and by the arrow keys (shift: finer). */
export const Grips = ({ placed, ...rest }: Props) =>
  placed.map((grip) => <Grip key={`${grip.kind} ${grip.id}`} grip={grip} {...rest} />);
