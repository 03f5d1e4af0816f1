"use client";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { Button, ButtonGroup } from "react-bootstrap";
import { ZoomIn, ZoomOut } from "react-bootstrap-icons";
import { drumPieces, type Hit, type Piece, type Song } from "../../core/song/song";
import { barLines } from "../../core/grid/bars";
import { editedTime } from "../../core/engine/timeline";
import { sheetOf, useRedraw } from "../shared/canvas";
import { setStyle } from "../shared/draw";
import { pieceNames } from "../../core/song/pieceNames";
import { clock } from "../shared/format";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { TableBehind } from "../shared/TableBehind";
import { LevelLine } from "./LevelLine";
import { strokesTable } from "./strokesTable";
import { Transport } from "./Transport";

const rulerHeight = 20;
const sectionHeight = 17;

/** What bars and sections take above the strokes. */
const topOf = ({ sections }: Song): number => rulerHeight + (sections.length > 0 ? sectionHeight : 2);

interface View {
  readonly from: number; // s
  readonly to: number;
}

const rowsOf = (hits: readonly Hit[]): Piece[] => drumPieces.filter((p) => hits.some((h) => h.piece === p));

/** Snaps an instant to the nearest beat when the tempo is known. */
function snapped(song: Song, seconds: number): number {
  const beats = song.tempo?.beats ?? [];
  if (beats.length === 0) return seconds;
  return beats.reduce((best, b) => (Math.abs(b - seconds) < Math.abs(best - seconds) ? b : best), beats[0]!);
}

function drawLine(
  canvas: HTMLCanvasElement,
  song: Song,
  view: View,
  chosen: Piece | null,
  loop: View | null,
): void {
  const { ctx, width, height, color } = sheetOf(canvas);
  const x = (t: number) => ((t - view.from) / (view.to - view.from)) * width;
  if (loop) {
    ctx.fillStyle = color("accent-wash");
    ctx.fillRect(x(loop.from), 0, x(loop.to) - x(loop.from), height);
  }
  drawBars(ctx, song, x, width, height, color);
  ctx.font = `600 11px ${getComputedStyle(canvas).fontFamily}`;
  for (const s of song.sections) {
    ctx.fillStyle = color("section");
    ctx.fillRect(x(s.from) + 1, rulerHeight, x(s.to) - x(s.from) - 2, sectionHeight - 3);
    ctx.fillStyle = color("ink");
    ctx.save();
    ctx.beginPath();
    ctx.rect(x(s.from), rulerHeight, x(s.to) - x(s.from) - 4, sectionHeight);
    ctx.clip();
    ctx.fillText(s.name, Math.max(2, x(s.from) + 6), rulerHeight + 11);
    ctx.restore();
  }
  const rows = rowsOf(song.hits);
  const top = topOf(song);
  const rowHeight = (height - top) / Math.max(1, rows.length);
  for (const h of song.hits) {
    const t = editedTime(song.edits, h.time, song.sampleRate);
    if (t < view.from || t > view.to) continue;
    const row = rows.indexOf(h.piece);
    const share = h.ghost ? 0.4 : Math.min(1, Math.max(0.5, 1 + (h.levelDb + 6) / 40));
    const tall = share * (rowHeight - 2);
    ctx.globalAlpha = chosen === null || chosen === h.piece ? 1 : 0.35;
    ctx.fillStyle = color(h.piece.replace(/\d/, ""));
    ctx.fillRect(x(t), top + (row + 1) * rowHeight - 1 - tall, 2, tall);
  }
  ctx.globalAlpha = 1;
}

function drawBars(
  ctx: CanvasRenderingContext2D,
  song: Song,
  x: (t: number) => number,
  width: number,
  height: number,
  color: (name: string) => string,
): void {
  ctx.font = `11px ${getComputedStyle(ctx.canvas).fontFamily}`;
  ctx.fillStyle = color("ink-soft");
  ctx.strokeStyle = color("line");
  const { tempo } = song;
  let last = -60;
  if (tempo)
    for (const { bar, seconds } of barLines(tempo)) {
      const at = x(seconds);
      if (at < -20 || at > width || at - last < 34) continue;
      last = at;
      ctx.beginPath();
      ctx.moveTo(at + 0.5, 4);
      ctx.lineTo(at + 0.5, height);
      ctx.stroke();
      ctx.fillText(String(bar), at + 4, 13);
    }
  else for (let t = 0; t < song.frames / song.sampleRate; t += 5) ctx.fillText(clock(t), x(t) + 3, 13);
}

/** The song from left to right: bars, sections, strokes per drum, loop and playhead; the transport on top of it. */
export function SongLine() {
  const song = useSong((s) => s.song!);
  const chosen = useSong((s) => s.piece);
  const loop = usePlayback((s) => s.loop);
  const looping = usePlayback((s) => s.looping);
  const seconds = Math.max(1, song.frames / song.sampleRate);
  const [view, setView] = useState<View>({ from: 0, to: seconds });
  const [drawn, setDrawn] = useState<View | null>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const viewNow = useRef(view);
  useEffect(() => {
    viewNow.current = view;
  });
  useEffect(() => setView({ from: 0, to: seconds }), [seconds]);

  const shownLoop = useMemo(
    () =>
      drawn ??
      (loop && looping ? { from: loop.from / song.sampleRate, to: loop.to / song.sampleRate } : null),
    [drawn, loop, looping, song.sampleRate],
  );
  /** Asked for only when the line changes its size: with every report it would make the browser lay out anew. */
  const width = useRef(0);
  const redraw = useCallback(() => {
    width.current = canvas.current?.clientWidth ?? 0;
    if (canvas.current) drawLine(canvas.current, song, view, chosen, shownLoop);
  }, [song, view, chosen, shownLoop]);
  useRedraw(canvas, redraw);

  const rate = song.sampleRate;
  const placeHead = useCallback(
    (frame: number) => {
      const { from, to } = viewNow.current;
      const t = frame / rate;
      if (!head.current) return;
      const share = (t - from) / (to - from);
      const place = share < 0 || share > 1 ? -10 : Math.round(2 * share * width.current) / 2;
      setStyle(head.current, "transform", `translateX(${place}px)`);
    },
    [rate],
  );
  useEffect(() => {
    placeHead(playback.position);
    const follow = playback.subscribe((s) => {
      placeHead(s.position);
      const { from, to } = viewNow.current;
      const t = s.position / rate;
      if (s.playing && to - from < seconds - 0.1 && (t > to || t < from)) {
        const wide = to - from;
        const start = Math.max(0, Math.min(seconds - wide, t - 0.1 * wide));
        setView({ from: start, to: start + wide });
      }
    });
    const moves = playback.onMove(placeHead);
    return () => {
      follow();
      moves();
    };
  }, [placeHead, view, rate, seconds]);

  const zoom = (factor: number) => {
    const wide = Math.min(seconds, Math.max(1, (view.to - view.from) * factor));
    const centre = shownLoop ? (shownLoop.from + shownLoop.to) / 2 : playback.position / rate;
    const from = Math.max(0, Math.min(seconds - wide, centre - wide / 2));
    setView({ from, to: from + wide });
  };
  const timeAt = (clientX: number) => {
    const box = canvas.current!.getBoundingClientRect();
    const share = (clientX - box.left) / box.width;
    return Math.min(seconds, Math.max(0, view.from + share * (view.to - view.from)));
  };
  const start = useRef<{ x: number; t: number; y: number } | null>(null);
  const loopOf = (a: number, b: number): View => ({
    from: snapped(song, Math.min(a, b)),
    to: Math.max(snapped(song, Math.max(a, b)), snapped(song, Math.min(a, b)) + 0.25),
  });
  const take = ({ from, to }: View) =>
    playback.setLoop({ from: Math.round(from * rate), to: Math.round(to * rate) }, true);
  const rows = rowsOf(song.hits);

  return (
    <section className="song-line" aria-label="Song line">
      <Transport
        zoom={
          <ButtonGroup size="sm" aria-label="Zoom of the song line">
            <Button variant="outline-secondary" aria-label="Show less of the song" onClick={() => zoom(0.5)}>
              <ZoomIn aria-hidden />
            </Button>
            <Button variant="outline-secondary" aria-label="Show more of the song" onClick={() => zoom(2)}>
              <ZoomOut aria-hidden />
            </Button>
          </ButtonGroup>
        }
      />
      <div className="lanes">
        <div className="lane-names" style={{ paddingTop: topOf(song) }} aria-hidden>
          {rows.map((p) => (
            <span key={p} className={chosen === p ? "chosen" : ""}>
              {pieceNames[p]}
            </span>
          ))}
        </div>
        <div className="lane">
          <TableBehind caption="strokes of the song" tables={() => [strokesTable(song)]} />
          <canvas
            ref={canvas}
            role="img"
            aria-label={`${song.hits.length} strokes on ${rows.length} drums over ${clock(seconds)}; click to put the playhead, drag to loop`}
            onPointerDown={(event) => {
              start.current = { x: event.clientX, t: timeAt(event.clientX), y: event.nativeEvent.offsetY };
              event.currentTarget.setPointerCapture(event.pointerId);
            }}
            onPointerMove={(event) => {
              if (start.current && Math.abs(event.clientX - start.current.x) > 4)
                setDrawn(loopOf(start.current.t, timeAt(event.clientX)));
            }}
            onPointerUp={(event) => {
              const begun = start.current;
              start.current = null;
              setDrawn(null);
              if (!begun) return;
              const t = timeAt(event.clientX);
              if (Math.abs(event.clientX - begun.x) > 4) return take(loopOf(begun.t, t));
              const section = song.sections.find((s) => t >= s.from && t < s.to);
              const onSection = begun.y > rulerHeight && begun.y < rulerHeight + sectionHeight;
              if (onSection && section) take({ from: section.from, to: section.to });
              else playback.seek(t * rate);
            }}
            onPointerCancel={() => {
              start.current = null;
              setDrawn(null);
            }}
            onWheel={(event) => zoom(event.deltaY > 0 ? 1.25 : 0.8)}
          />
          <LevelLine song={song} view={view} top={topOf(song)} />
          <div ref={head} className="playhead" aria-hidden />
        </div>
      </div>
    </section>
  );
}
