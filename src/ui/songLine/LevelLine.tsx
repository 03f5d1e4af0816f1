"use client";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { nameOf } from "../../core/song/graph";
import { moveLimits, withPoint } from "../../core/song/levelMoves";
import type { LevelMove, Song } from "../../core/song/song";
import { useBenchOwner } from "../blend/benchOwner";
import { setMoves } from "../blend/moves/FaderMoves";
import { useMoves } from "../blend/moves/moveStore";
import { shortName, signed } from "../shared/format";
import { useSong } from "../shared/songStore";

/** What the line shows of a fader, dB: what lies beyond is drawn at its edge. */
const shown = { top: 12, bottom: -30 } as const;
const share = (db: number): number => Math.min(1, Math.max(0, (shown.top - db) / (shown.top - shown.bottom)));
const toDb = (y: number): number =>
  Math.round(10 * (shown.top - Math.min(1, Math.max(0, y)) * (shown.top - shown.bottom))) / 10;

interface Props {
  readonly song: Song;
  readonly view: { readonly from: number; readonly to: number };
  /** Pixels above it that belong to bars and sections. */
  readonly top: number;
}

/** The way of the chosen fader over the strokes: a line, and while one draws, its points. */
export function LevelLine({ song, view, top }: Props) {
  const owner = useBenchOwner();
  const blends = useSong((s) => s.step === "blend");
  const drawing = useMoves((s) => s.drawing);
  const board = useRef<HTMLDivElement>(null);
  const held = useRef<{ moves: readonly LevelMove[]; at: number | null; x: number; y: number } | null>(null);
  const moves = owner.levelMoves ?? [];
  if (!blends || (!drawing && moves.length === 0)) return null;
  const wide = view.to - view.from;
  const x = (t: number): number => (100 * (t - view.from)) / wide;
  const y = (db: number): number => 100 * share(db);
  const pointAt = (event: PointerEvent): LevelMove => {
    const box = board.current!.getBoundingClientRect();
    const time = view.from + (wide * (event.clientX - box.left)) / box.width;
    const seconds = song.frames / song.sampleRate;
    return { time: Math.min(seconds, Math.max(0, time)), db: toDb((event.clientY - box.top) / box.height) };
  };
  const grab = (event: PointerEvent, at: number | null) => {
    event.stopPropagation();
    board.current!.setPointerCapture(event.pointerId);
    held.current = { moves, at, x: event.clientX, y: event.clientY };
    if (at === null) setMoves(owner, withPoint(moves, null, pointAt(event)), false);
  };
  const drag = (event: PointerEvent, done: boolean) => {
    if (!held.current) return;
    const { moves: before, at, ...begun } = held.current;
    // A press that moves nothing changes nothing.
    const stood = Math.hypot(event.clientX - begun.x, event.clientY - begun.y) < 3;
    if (done) held.current = null;
    if (at !== null && stood) return setMoves(owner, before, false);
    setMoves(owner, withPoint(before, at, pointAt(event)), done);
  };
  const keys = (event: KeyboardEvent, i: number) => {
    const point = moves[i]!;
    const db = { ArrowUp: 1, ArrowDown: -1, PageUp: 6, PageDown: -6 }[event.key];
    const time = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    const fine = event.shiftKey ? 0.1 : 0.5;
    if (event.key === "Delete" || event.key === "Backspace")
      setMoves(
        owner,
        moves.filter((_, k) => k !== i),
      );
    else if (db !== undefined) setMoves(owner, withPoint(moves, i, { ...point, db: point.db + db * fine }));
    else if (time !== undefined)
      setMoves(owner, withPoint(moves, i, { ...point, time: point.time + time * fine * 0.2 }));
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const first = moves[0];
  const last = moves.at(-1);
  const line =
    first && last
      ? [{ time: view.from - wide, db: first.db }, ...moves, { time: view.to + wide, db: last.db }]
      : [
          { time: view.from, db: 0 },
          { time: view.to, db: 0 },
        ];
  const label = `Fader of ${shortName(nameOf(owner))} over the song`;
  return (
    <div
      ref={board}
      className={`level-line ${drawing ? "drawing" : ""}`}
      style={{ top }}
      onPointerDown={(event) => drawing && grab(event, null)}
      onPointerMove={(event) => drag(event, false)}
      onPointerUp={(event) => drag(event, true)}
      onPointerCancel={() => {
        if (held.current) setMoves(owner, held.current.moves, false);
        held.current = null;
      }}
    >
      <svg viewBox="0 0 100 100" preserveAspectRatio="none" role="img" aria-label={label}>
        {drawing && <line className="zero" x1={0} x2={100} y1={y(0)} y2={y(0)} />}
        <polyline points={line.map((m) => `${x(m.time)},${y(m.db)}`).join(" ")} />
      </svg>
      {drawing && <span className="level-line-name">{shortName(nameOf(owner))}</span>}
      {drawing &&
        moves.map((m, i) =>
          m.time < view.from || m.time > view.to ? null : (
            <span
              key={i}
              role="slider"
              tabIndex={0}
              className="point"
              style={{ left: `${x(m.time)}%`, top: `${y(m.db)}%` }}
              aria-label={`Point ${i + 1} of ${shortName(nameOf(owner))}`}
              aria-valuemin={moveLimits.min}
              aria-valuemax={moveLimits.max}
              aria-valuenow={m.db}
              aria-valuetext={`${signed(m.db, 1)} dB at ${m.time.toFixed(2)} s`}
              title={`${signed(m.db, 1)} dB at ${m.time.toFixed(2)} s`}
              onPointerDown={(event) => grab(event, i)}
              onDoubleClick={() =>
                setMoves(
                  owner,
                  moves.filter((_, k) => k !== i),
                )
              }
              onKeyDown={(event) => keys(event, i)}
            />
          ),
        )}
    </div>
  );
}
