import { editedTime } from "../../../core/engine/timeline";
import { nearestLine } from "../../../core/grid/lines";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Edit, Hit, Piece, Song, Tempo, TightenSettings } from "../../../core/song/song";
import { settingsAt } from "../../../core/tighten/settingsAt";
import type { Series } from "../../shared/Plot";

const shapes: Partial<Record<Piece, Series["shape"]>> = {
  kick: "rect",
  snare: "circle",
  hat: "cross",
  ride: "cross",
};

/** Offsets of strokes from the grid, ms, over the song: as played, and by drum as they are moved. */
export function offsetSeries(
  { sections, sampleRate }: Song,
  tempo: Tempo,
  settings: TightenSettings,
  strokes: readonly Hit[],
  edits: readonly Edit[],
): Series[] {
  const points = (list: readonly Hit[], at: (h: Hit) => number) =>
    list.map((h): [number, number] => {
      const t = at(h);
      return [t, 1000 * (t - nearestLine(t, tempo, settingsAt(h.time, settings, sections)))];
    });
  const after = [...new Set(strokes.map((h) => h.piece))].map((piece): Series => ({
    label: `${pieceNames[piece]}${edits.length ? ", tightened" : ""}`,
    color: piece.replace(/\d/, ""),
    kind: "points",
    radius: 3.5,
    shape: shapes[piece] ?? "triangle",
    points: points(
      strokes.filter((h) => h.piece === piece),
      (h) => editedTime(edits, h.time, sampleRate),
    ),
  }));
  if (edits.length === 0) return after;
  const played = points(strokes, (h) => h.time);
  return [{ label: "as played", color: "ink-soft", kind: "points", radius: 2.5, points: played }, ...after];
}

/** Shares of strokes per 2 ms of offset. */
export function distribution(series: readonly Series[]): Series[] {
  const count = (points: readonly (readonly [number, number])[]) => {
    const bins = new Map<number, number>();
    for (const [, o] of points) bins.set(2 * Math.round(o / 2), (bins.get(2 * Math.round(o / 2)) ?? 0) + 1);
    return Array.from({ length: 61 }, (_, i): [number, number] => [
      2 * (i - 30),
      (100 * (bins.get(2 * (i - 30)) ?? 0)) / Math.max(1, points.length),
    ]);
  };
  const played = series.find((s) => s.label === "as played");
  const now = series.filter((s) => s !== played).flatMap((s) => s.points);
  return [
    ...(played
      ? [{ label: "as played", color: "ink-soft", dashed: true, width: 1.5, points: count(played.points) }]
      : []),
    { label: "now", color: "accent", fill: true, points: count(now) },
  ];
}
