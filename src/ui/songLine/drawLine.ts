import { barLines } from "../../core/grid/bars";
import { editedTime } from "../../core/engine/timeline";
import { drumPieces, type Hit, type Piece, type Song } from "../../core/song/song";
import { sheetOf } from "../shared/canvas";
import { clock } from "../shared/format";

/** Pixels of the line above the strokes: bars, and sections where there are any. */
const rulerHeight = 20;
const sectionHeight = 17;

/** What bars and sections take above the strokes. */
export const topOf = ({ sections }: Song): number => rulerHeight + (sections.length > 0 ? sectionHeight : 2);

/** A stretch of the song, s. */
export interface View {
  readonly from: number;
  readonly to: number;
}

/** Drums that are struck, from the top of the line to its bottom. */
export const rowsOf = (hits: readonly Hit[]): Piece[] =>
  drumPieces.filter((p) => hits.some((h) => h.piece === p));

/** Whether a press lies on the row of the sections. */
export const onSections = (y: number): boolean => y > rulerHeight && y < rulerHeight + sectionHeight;

/** Snaps an instant to the nearest beat when the tempo is known. */
export function snapped(song: Song, seconds: number): number {
  const beats = song.tempo?.beats ?? [];
  if (beats.length === 0) return seconds;
  return beats.reduce((best, b) => (Math.abs(b - seconds) < Math.abs(best - seconds) ? b : best), beats[0]!);
}

/** Draws bars, sections, loop and the strokes of every drum; those of other drums than the chosen one pale. */
export function drawLine(
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
