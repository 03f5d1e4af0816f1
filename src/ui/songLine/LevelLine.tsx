"use client";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { nameOf, type Owner } from "../../core/song/graph";
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

/** Where times and levels lie in the line, in hundredths of its width and height. */
interface Scale {
  readonly x: (time: number) => number;
  readonly y: (db: number) => number;
}

/** Points of a fader's way as they are grabbed, dragged and set down on a board. */
function useDrag(owner: Owner, { song, view }: Props) {
  const board = useRef<HTMLDivElement>(null);
  const held = useRef<{ moves: readonly LevelMove[]; at: number | null; x: number; y: number } | null>(null);
  const moves = owner.levelMoves ?? [];
  const pointAt = (event: PointerEvent): LevelMove => {
    const box = board.current!.getBoundingClientRect();
    const time = view.from + ((view.to - view.from) * (event.clientX - box.left)) / box.width;
    const seconds = song.frames / song.sampleRate;
    return { time: Math.min(seconds, Math.max(0, time)), db: toDb((event.clientY - box.top) / box.height) };
  };
  /** Takes hold of a point, or of a new one: null. */
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
  const leave = () => {
    if (held.current) setMoves(owner, held.current.moves, false);
    held.current = null;
  };
  return { board, moves, grab, drag, leave };
}

/** Moves or takes out a point by a key: up and down its level, left and right its time, shift finer. */
function pointByKey(owner: Owner, moves: readonly LevelMove[], i: number, event: KeyboardEvent): void {
  const point = moves[i]!;
  const db = { ArrowUp: 1, ArrowDown: -1, PageUp: 6, PageDown: -6 }[event.key];
  const time = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
  const fine = event.shiftKey ? 0.1 : 0.5;
  if (event.key === "Delete" || event.key === "Backspace") setMoves(owner, moves.toSpliced(i, 1));
  else if (db !== undefined) setMoves(owner, withPoint(moves, i, { ...point, db: point.db + db * fine }));
  else if (time !== undefined)
    setMoves(owner, withPoint(moves, i, { ...point, time: point.time + time * fine * 0.2 }));
  else return;
  event.preventDefault();
  event.stopPropagation();
}

interface PointProps {
  readonly owner: Owner;
  readonly moves: readonly LevelMove[];
  readonly index: number;
  readonly scale: Scale;
  readonly grab: (event: PointerEvent) => void;
}
function Point({ owner, moves, index, scale, grab }: PointProps) {
  const { time, db } = moves[index]!;
  const told = `${signed(db, 1)} dB at ${time.toFixed(2)} s`;
  return (
    <span
      role="slider"
      tabIndex={0}
      className="point"
      style={{ left: `${scale.x(time)}%`, top: `${scale.y(db)}%` }}
      aria-label={`Point ${index + 1} of ${shortName(nameOf(owner))}`}
      aria-valuemin={moveLimits.min}
      aria-valuemax={moveLimits.max}
      aria-valuenow={db}
      aria-valuetext={told}
      title={told}
      onPointerDown={grab}
      onDoubleClick={() => setMoves(owner, moves.toSpliced(index, 1))}
      onKeyDown={(event) => pointByKey(owner, moves, index, event)}
    />
  );
}

/** The line as it is drawn: its ends go on beyond what is shown. */
function drawnLine(moves: readonly LevelMove[], { from, to }: Props["view"]): readonly LevelMove[] {
  const beyond = to - from;
  const first = moves[0] ?? { db: 0 };
  const last = moves.at(-1) ?? { db: 0 };
  return [{ time: from - beyond, db: first.db }, ...moves, { time: to + beyond, db: last.db }];
}

/** The way of the chosen fader over the strokes: a line, and while one draws, its points. */
export function LevelLine(props: Props) {
  const { view, top } = props;
  const owner = useBenchOwner();
  const blends = useSong((s) => s.step === "blend");
  const drawing = useMoves((s) => s.drawing);
  const { board, moves, grab, drag, leave } = useDrag(owner, props);
  if (!blends || (!drawing && moves.length === 0)) return null;
  const scale: Scale = {
    x: (t) => (100 * (t - view.from)) / (view.to - view.from),
    y: (db) => 100 * share(db),
  };
  const name = shortName(nameOf(owner));
  const line = drawnLine(moves, view).map((m) => `${scale.x(m.time)},${scale.y(m.db)}`);
  return (
    <div
      ref={board}
      className={`level-line ${drawing ? "drawing" : ""}`}
      style={{ top }}
      onPointerDown={(event) => drawing && grab(event, null)}
      onPointerMove={(event) => drag(event, false)}
      onPointerUp={(event) => drag(event, true)}
      onPointerCancel={leave}
    >
      <svg
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        role="img"
        aria-label={`Fader of ${name} over the song`}
      >
        {drawing && <line className="zero" x1={0} x2={100} y1={scale.y(0)} y2={scale.y(0)} />}
        <polyline points={line.join(" ")} />
      </svg>
      {drawing && <span className="level-line-name">{name}</span>}
      {drawing &&
        moves.map(
          ({ time }, i) =>
            time >= view.from &&
            time <= view.to && (
              <Point
                key={i}
                owner={owner}
                moves={moves}
                index={i}
                scale={scale}
                grab={(event) => grab(event, i)}
              />
            ),
        )}
    </div>
  );
}
