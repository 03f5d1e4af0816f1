"use client";
import { useMemo, useState } from "react";
import { Table } from "react-bootstrap";
import { editedTime } from "../../core/engine/timeline";
import { gridParts, nearestLine } from "../../core/grid/lines";
import {
  isShell,
  type Hit,
  type Piece,
  type Song,
  type Tempo,
  type TightenSettings,
} from "../../core/song/song";
import { feelByDrum, findFills } from "../../core/tighten/playing";
import { planEdits } from "../../core/tighten/planEdits";
import { settingsAt } from "../../core/tighten/settingsAt";
import { leadingStrokes, measureTightness } from "../../core/tighten/tightness";
import { pieceNames } from "../../core/song/pieceNames";
import { signed } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { Legend, Plot, type Series } from "../shared/Plot";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { MoveSettings } from "./MoveSettings";
import { changePlaying } from "./playingChange";

const shapes: Partial<Record<Piece, Series["shape"]>> = {
  kick: "rect",
  snare: "circle",
  hat: "cross",
  ride: "cross",
};

const ms = (seconds: number): string => `${signed(1000 * seconds, 1)} ms`;
const lateness = (seconds: number): string =>
  Math.abs(seconds) < 0.0005
    ? "on the grid"
    : `${(1000 * Math.abs(seconds)).toFixed(1)} ms ${seconds > 0 ? "late" : "early"}`;

/** Shares of strokes per 2 ms of offset. */
function distribution(series: readonly Series[]): Series[] {
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

/** How every drum plays, in the song and by section; the fills that run. */
function FeelTable({ song, tempo, settings }: { song: Song; tempo: Tempo; settings: TightenSettings }) {
  const { hits, sections } = song;
  const feels = useMemo(() => feelByDrum(hits, tempo, settings, sections), [hits, tempo, settings, sections]);
  const fills = useMemo(() => findFills(hits, tempo, settings, sections), [hits, tempo, settings, sections]);
  const whole = feels.filter((f) => f.section === null);
  const cell = (piece: Piece, section: string) =>
    feels.find((f) => f.piece === piece && f.section === section);
  const running = fills.filter((f) => Math.abs(f.drags) > 0.012);
  return (
    <div className="feel">
      <Table size="sm" className="mic-table">
        <thead>
          <tr>
            <th>Lean, late +</th>
            <th className="number">Song</th>
            <th className="number">Spread</th>
            {sections.map((s) => (
              <th className="number" key={s.id}>
                {s.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {whole.map((f) => (
            <tr key={f.piece} onClick={() => useSong.getState().choosePiece(f.piece)}>
              <td className="name">
                <strong>{pieceNames[f.piece]}</strong> <span className="quiet">{f.strokes}</span>
              </td>
              <td className="number">{ms(f.lean)}</td>
              <td className="number">{(1000 * f.spread).toFixed(1)} ms</td>
              {sections.map((s) => {
                const own = cell(f.piece, s.id);
                return (
                  <td className="number" key={s.id}>
                    {own ? ms(own.lean) : ""}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </Table>
      {running.length > 0 && (
        <p className="hint">
          {running.map((f, i) => (
            <span key={f.from}>
              {i > 0 ? "; " : "Fills that run: "}
              <button
                type="button"
                className="link"
                onClick={() => playback.seek(Math.max(0, f.from - 0.3) * song.sampleRate)}
              >
                bar {f.at}
              </button>{" "}
              {f.drags < 0 ? "rushes" : "drags"} by {(1000 * Math.abs(f.drags)).toFixed(0)} ms
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

/** The playing against the grid, and how far it is moved. */
export function MovesBench() {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  const { tempo, hits, sampleRate, sections } = song;
  const [draft, setDraft] = useState<Partial<TightenSettings> | null>(null);
  const settings: TightenSettings = useMemo(() => ({ ...song.tighten, ...draft }), [song.tighten, draft]);
  // While something is dragged the cuts are planned here, without the recording; then the server plans them with it.
  const edits = useMemo(
    () => (draft ? planEdits({ ...song, tighten: settings }) : song.edits),
    [draft, song, settings],
  );
  const mains = useMemo(() => {
    const shown = piece === null ? leadingStrokes(hits, settings) : hits.filter((h) => h.piece === piece && !h.ghost && h.kind !== "grace"); // prettier-ignore
    return shown;
  }, [hits, piece, settings]);
  const pieces = useMemo(() => [...new Set(mains.map((h) => h.piece))], [mains]);
  const series = useMemo((): Series[] => {
    if (!tempo) return [];
    const points = (list: readonly Hit[], at: (h: Hit) => number) =>
      list.map((h): [number, number] => [at(h), 1000 * (at(h) - nearestLine(at(h), tempo, settingsAt(h.time, settings, sections)))]); // prettier-ignore
    const before: Series = { label: "as played", color: "ink-soft", kind: "points", radius: 2.5, points: points(mains, (h) => h.time) }; // prettier-ignore
    const after = pieces.map((p): Series => ({
      label: `${pieceNames[p]}${edits.length ? ", tightened" : ""}`,
      color: p.replace(/\d/, ""),
      kind: "points",
      radius: 3.5,
      shape: shapes[p] ?? "triangle",
      points: points(mains.filter((h) => h.piece === p), (h) => editedTime(edits, h.time, sampleRate)),
    })); // prettier-ignore
    return edits.length > 0 ? [before, ...after] : after;
  }, [mains, pieces, edits, tempo, settings, sections, sampleRate]);
  const tightness = useMemo(
    () => measureTightness({ hits, tempo, tighten: settings, sections, edits, sampleRate }),
    [hits, tempo, settings, sections, edits, sampleRate],
  );
  const spread = useMemo(() => distribution(series), [series]);
  if (hits.length === 0 || !tempo || !tightness)
    return (
      <Nothing>
        {hits.length === 0
          ? "Analyse the kit in Gather first; then the strokes are known."
          : "No tempo is known: there are too few strokes. Type or tap it under Beat."}
      </Nothing>
    );

  const store = (next: Partial<TightenSettings>, done: boolean) => {
    if (!done) return setDraft({ ...draft, ...next });
    const whole = { ...settings, ...next };
    setDraft(null);
    const label =
      whole.strength > 0 ? `Tighten by ${Math.round(100 * whole.strength)} %` : "Tighten settings";
    changePlaying(label, { tighten: whole });
  };
  const halfPart = (500 * 60) / tempo.bpm / gridParts(settings.grid, tempo.compound);
  const furthest = Math.max(10, ...series.flatMap((s) => s.points.map((p) => Math.abs(p[1]))));
  const reach = Math.min(Math.ceil(halfPart / 5) * 5, Math.ceil((1.15 * furthest) / 5) * 5);
  const worst = edits.reduce((most, e) => Math.max(most, e.jumpDb ?? -Infinity), -Infinity);
  return (
    <div className="bench-columns">
      <div className="evidence scrolls">
        <h2>
          {mains.length} {piece && !isShell(piece) ? "" : "main "}strokes{" "}
          <small>against the {settings.grid} grid</small>
        </h2>
        <Legend series={series} note="click a stroke to hear it" />
        <div className="row-plots scatter">
          <Plot
            caption={`Offset of ${mains.length} strokes from the grid over the song`}
            series={series}
            x={{ label: "Time, s", min: 0, max: Math.ceil(song.frames / sampleRate) }}
            y={{ label: "early     Offset, ms     late", min: -reach, max: reach }}
            marks={[
              { id: "grid", axis: "y", value: 0, label: "", color: "ink-soft", dashed: true },
              {
                id: "window",
                axis: "y",
                value: 1000 * settings.window,
                label: `stays within ${(1000 * settings.window).toFixed(1)} ms`,
                drag: (v, done) =>
                  store({ window: Math.min(0.05, Math.max(0, Math.round(Math.abs(v) * 10) / 10000)) }, done),
              },
            ]}
            onPoint={(s, i) => playback.seek(Math.max(0, series[s]!.points[i]![0] - 0.3) * sampleRate)}
          />
          <Plot
            caption="Distribution of the offsets before and after"
            series={spread}
            x={{ label: "Offset, ms", min: -reach, max: reach }}
            y={{
              label: "Strokes, %",
              min: 0,
              max: Math.ceil(Math.max(10, ...spread.flatMap((s) => s.points.map((p) => p[1]))) * 1.1),
            }}
          />
        </div>
        <FeelTable song={song} tempo={tempo} settings={settings} />
      </div>
      <aside className="settings">
        <section className="panel figures" aria-label="Figures">
          <dl>
            <dt>Spread as played</dt>
            <dd>{(1000 * tightness.spreadBefore).toFixed(1)} ms</dd>
            <dt>Spread now</dt>
            <dd>{(1000 * tightness.spreadAfter).toFixed(1)} ms</dd>
            <dt>Cuts, all mics together</dt>
            <dd>{tightness.cuts}</dd>
            <dt>Largest move</dt>
            <dd>{(1000 * tightness.largestMove).toFixed(1)} ms</dd>
            {Number.isFinite(worst) && (
              <>
                <dt title="Of the spectrum, beyond what the drums do there themselves">Worst joint</dt>
                <dd>{worst <= 0 ? "smooth" : `+${worst.toFixed(1)} dB`}</dd>
              </>
            )}
            {piece && (
              <>
                <dt>Habit of the {pieceNames[piece].toLowerCase()}</dt>
                <dd>{lateness(feelByDrum(mains, tempo, settings, [])[0]?.lean ?? 0)}</dd>
              </>
            )}
          </dl>
        </section>
        <MoveSettings song={song} settings={settings} store={store} />
      </aside>
    </div>
  );
}
