"use client";
import { useRef, type KeyboardEvent } from "react";

/** How values lie on a slider. */
export interface SliderWay {
  /** Places from one end to the other. */
  readonly places: number;
  readonly toPlace: (value: number) => number;
  /** The value at a place, as round as is sensible. */
  readonly fromPlace: (place: number) => number;
  /** Places that an arrow key moves by. */
  readonly key: number;
  /** Share of that with the shift key. */
  readonly fine?: number;
}

interface Props {
  readonly way: SliderWay;
  readonly value: number;
  /** Where a double click puts it. */
  readonly rest: number;
  readonly id?: string;
  /** For those who do not see it, where no label stands beside it. */
  readonly label?: string;
  readonly text?: string;
  readonly disabled?: boolean;
  /** `done`: the move has ended and is kept. */
  readonly set: (value: number, done: boolean) => void;
}

const keys: Readonly<Record<string, number>> = {
  ArrowRight: 1,
  ArrowUp: 1,
  ArrowLeft: -1,
  ArrowDown: -1,
  PageUp: 10,
  PageDown: -10,
  Home: -Infinity,
  End: Infinity,
};

/** A slider: heard while it moves, kept when it is let go, by pointer or keys (shift: finer); a double click puts it to rest. */
export function Slider({ way, value, rest, id, label, text, disabled = false, set }: Props) {
  const { places, toPlace, fromPlace } = way;
  /** What a key that is still held has moved it to. */
  const held = useRef<number | null>(null);
  /** What the pointer has moved it to: an answer of the server may have put the field elsewhere since. */
  const moved = useRef<number | null>(null);
  const press = (event: KeyboardEvent) => {
    const by = keys[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const step = by * way.key * (event.shiftKey ? (way.fine ?? 1 / 4) : 1);
    held.current = fromPlace(Math.min(places, Math.max(0, toPlace(held.current ?? value) + step)));
    set(held.current, false);
  };
  const letGo = () => {
    if (held.current === null) return;
    const kept = held.current;
    held.current = null;
    set(kept, true);
  };
  return (
    <input
      id={id}
      type="range"
      className="form-range"
      aria-label={label}
      aria-valuetext={text}
      min={0}
      max={places}
      step="any"
      value={toPlace(value)}
      disabled={disabled}
      onPointerDown={() => (moved.current = null)}
      onChange={(event) => {
        moved.current = fromPlace(Number(event.target.value));
        set(moved.current, false);
      }}
      onPointerUp={(event) => set(moved.current ?? fromPlace(Number(event.currentTarget.value)), true)}
      onKeyDown={press}
      onKeyUp={letGo}
      onBlur={letGo}
      onDoubleClick={() => set(rest, true)}
    />
  );
}
