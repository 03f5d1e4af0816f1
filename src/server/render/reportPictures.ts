import { editedTime } from "../../core/engine/timeline";
import { movedBy } from "../../core/song/levelMoves";
import { designEq } from "../../core/processors/eq/eq";
import { resolveParams } from "../../core/params";
import { processorType } from "../../core/processors";
import { responseDb } from "../../core/signal/biquad";
import { pieceNames } from "../../core/song/pieceNames";
import { drumPieces, type LevelMove, type ProcessorState, type Song } from "../../core/song/song";
import type { StrokeOffset } from "../../core/tighten/tightness";
import { escape } from "./html";

// Small pictures of a report, as SVG that prints: black, grey and one colour, no scripts.
const ink = "#1c5f63";
const grey = "#9a9a94";
const r = (x: number): string => String(Math.round(10 * x) / 10);

const svg = (width: number, height: number, label: string, inside: string): string =>
  `<svg viewBox="0 0 ${width} ${height}" width="${width}" height="${height}" role="img" aria-label="${escape(label)}" font-size="9" font-family="sans-serif">${inside}</svg>`;
const text = (x: number, y: number, words: string): string =>
  `<text x="${r(x)}" y="${r(y)}" fill="#333">${escape(words)}</text>`;
const path = (points: readonly (readonly [number, number])[]): string =>
  `<polyline fill="none" stroke="${ink}" points="${points.map(([x, y]) => `${r(x)},${r(y)}`).join(" ")}"/>`;

/** Room for names at the left, and the width of the rest, px. */
const [left, wide] = [70, 780];
/** Where an instant of the song lies in a picture of all of it, px. */
const acrossOf =
  ({ frames, sampleRate }: Pick<Song, "frames" | "sampleRate">) =>
  (t: number): number =>
    left + (wide * t * sampleRate) / frames;

/** The song from left to right: sections, and the strokes of each drum where they are heard, louder ones taller. */
export function songPicture({ hits, sections, edits, frames, sampleRate }: Song): string {
  const rows = drumPieces.filter((p) => hits.some((h) => h.piece === p));
  const x = acrossOf({ frames, sampleRate });
  const top = sections.length > 0 ? 16 : 4;
  const row = 13;
  const strokes = hits.map((h) => {
    const tall = h.ghost ? 4 : Math.max(5, Math.min(11, 11 + h.levelDb / 4));
    const at = x(editedTime(edits, h.time, sampleRate));
    const foot = top + row * (rows.indexOf(h.piece) + 1) - 1;
    return `M${r(at)} ${r(foot)}v${r(-tall)}`;
  });
  const named = rows.map((p, i) => text(0, top + row * (i + 1) - 3, pieceNames[p]));
  const parts = sections.map(
    (s) =>
      `<rect x="${r(x(s.from))}" y="0" width="${r(Math.max(1, x(s.to) - x(s.from) - 2))}" height="13" fill="#eee"/>${text(x(s.from) + 3, 10, s.name)}`,
  );
  const label = `${hits.length} strokes on ${rows.length} drums`;
  return svg(
    left + wide,
    top + row * rows.length + 2,
    label,
    `${parts.join("")}${named.join("")}<path stroke="${ink}" d="${strokes.join("")}"/>`,
  );
}

/** How far strokes off the grid are drawn, s; further ones at the edge. */
const drawnOff = 0.03;

/** Every stroke that decides, how far off the grid it was played and how far it is now. */
export function timingPicture(offsets: readonly StrokeOffset[], song: Song): string {
  const [height, middle] = [84, 42];
  const x = acrossOf(song);
  const y = (off: number): number => middle + (36 * Math.max(-drawnOff, Math.min(drawnOff, off))) / drawnOff;
  const dot = (t: number, off: number, colour: string): string =>
    `<circle cx="${r(x(t))}" cy="${r(y(off))}" r="1.6" fill="${colour}"/>`;
  const lines = [-drawnOff, 0, drawnOff].map(
    (off) =>
      `<path stroke="#ddd" d="M${left} ${r(y(off))}h${wide}"/>${text(0, y(off) + 3, off === 0 ? "grid" : `${1000 * Math.abs(off)} ms ${off < 0 ? "early" : "late"}`)}`,
  );
  const dots = [
    ...offsets.map((o) => dot(o.time, o.before, grey)),
    ...offsets.map((o) => dot(o.time, o.after, ink)),
  ];
  return svg(
    left + wide,
    height,
    "Strokes beside the grid, as played in grey and as they are now",
    lines.join("") + dots.join(""),
  );
}

/** What an EQ gives by frequency from 30 Hz to 18 kHz, within 9 dB up and down. */
export function eqPicture(state: ProcessorState, sampleRate: number): string {
  const [width, height, octaves] = [120, 36, Math.log2(18000 / 30)];
  const sections = designEq(resolveParams(processorType("eq").params, state.params), sampleRate);
  const points = Array.from({ length: 61 }, (_, i) => {
    const level = responseDb(sections, 30 * 2 ** ((octaves * i) / 60), sampleRate);
    return [(width * i) / 60, height / 2 - (height / 2) * Math.max(-1, Math.min(1, level / 9))] as const;
  });
  const zero = `<path stroke="#ddd" d="M0 ${height / 2}h${width}"/>`;
  return svg(width, height, "EQ from 30 Hz to 18 kHz, 9 dB up and down", zero + path(points));
}

/** How a fader is moved over the song, from +12 to -30 dB. */
export function faderPicture(moves: readonly LevelMove[], { frames, sampleRate }: Song): string {
  const [width, height] = [120, 24];
  const seconds = frames / sampleRate;
  const at = (db: number): number => (height * (12 - Math.max(-30, Math.min(12, db)))) / 42;
  const times = [0, ...moves.map((m) => m.time).filter((t) => t > 0 && t < seconds), seconds];
  const zero = `<path stroke="#ddd" d="M0 ${r(at(0))}h${width}"/>`;
  return svg(
    width,
    height,
    "Fader over the song, +12 to −30 dB",
    zero + path(times.map((t) => [(width * t) / seconds, at(movedBy(moves, t))] as const)),
  );
}
