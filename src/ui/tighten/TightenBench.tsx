"use client";
import { useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { number, type NumberParam } from "../../core/params";
import { editedTime } from "../../core/engine/timeline";
import { isShell, type Hit, type Piece, type TightenSettings } from "../../core/song/song";
import { measureTightness, nearestGrid, planEdits } from "../../core/tighten/planEdits";
import { gridParts, steadyTempo } from "../../core/tighten/steadyTempo";
import { pieceNames } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { ParamField, TypedField } from "../shared/ParamField";
import { Legend, Plot, type Series } from "../shared/Plot";
import { playback } from "../shared/playback";
import { useSong } from "../shared/songStore";

const strengthSpec = number("Strength", "%", 0, 100, 0, "Share of the way to the grid.");
const windowSpec = number("Leave within", "s", 0, 0.05, 0.003, "Strokes nearer to the grid than this stay.");
const largestSpec = number("Largest move", "s", 0.001, 0.1, 0.04, "No stroke is moved further.");
const bpmSpec: NumberParam = number(
  "Tempo",
  "",
  30,
  300,
  120,
  "Beats per minute; typed, it replaces the measured one.",
);
const grids: readonly TightenSettings["grid"][] = ["1/4", "1/8", "1/16", "1/8T"];

const shapes: Partial<Record<Piece, Series["shape"]>> = { kick: "rect", snare: "circle" };

/** Offsets of one drum's main strokes from the grid, ms, by the time they are heard at. */
const offsetsOf = (hits: readonly Hit[], at: (h: Hit) => number, grid: (t: number) => number) =>
  hits.map((h): [number, number] => [at(h), 1000 * (at(h) - grid(at(h)))]);

/** Tighten: the playing against the grid, and how far it is moved. */
export function TightenBench() {
  const song = useSong((s) => s.song!);
  const piece = useSong((s) => s.piece);
  const { change } = useSong.getState();
  const { tempo, hits, sampleRate } = song;
  const [draft, setDraft] = useState<Partial<TightenSettings>>({});
  const settings: TightenSettings = { ...song.tighten, ...draft };
  const { strength, grid, window: leave, largest } = settings;
  const edits = useMemo(
    () => planEdits(hits, tempo, { strength, grid, window: leave, largest }, sampleRate),
    [hits, tempo, strength, grid, leave, largest, sampleRate],
  );
  const mains = useMemo(
    () =>
      hits.filter(
        (h) => isShell(h.piece) && !h.ghost && (piece === null || !isShell(piece) || h.piece === piece),
      ),
    [hits, piece],
  );
  const pieces = useMemo(() => [...new Set(mains.map((h) => h.piece))], [mains]);
  const series = useMemo((): Series[] => {
    if (!tempo) return [];
    const line = (t: number) => nearestGrid(t, tempo.beats, grid);
    const before: Series = {
      label: "as played",
      color: "ink-soft",
      kind: "points",
      radius: 2.5,
      points: offsetsOf(mains, (h) => h.time, line),
    };
    const after = pieces.map((p): Series => ({
      label: `${pieceNames[p]}${edits.length ? ", tightened" : ""}`,
      color: p.replace(/\d/, ""),
      kind: "points",
      radius: 3.5,
      shape: shapes[p] ?? "triangle",
      points: offsetsOf(
        mains.filter((h) => h.piece === p),
        (h) => editedTime(edits, h.time, sampleRate),
        line,
      ),
    }));
    return edits.length > 0 ? [before, ...after] : after;
  }, [mains, pieces, edits, tempo, grid, sampleRate]);
  const tightness = useMemo(
    () =>
      tempo
        ? measureTightness(mains, tempo, grid, edits, (t) => editedTime(edits, t, sampleRate), sampleRate)
        : null,
    [mains, tempo, grid, edits, sampleRate],
  );
  const spread = useMemo(() => distribution(series), [series]);
  if (hits.length === 0 || !tempo || !tightness)
    return (
      <Nothing>
        {hits.length === 0
          ? "Analyse the kit in Gather first; then the strokes are known."
          : "No tempo could be measured: there are too few strokes."}
      </Nothing>
    );

  const store = (next: Partial<TightenSettings>, done: boolean) => {
    if (!done) return setDraft({ ...draft, ...next });
    const whole = { ...settings, ...next };
    setDraft({});
    change(whole.strength > 0 ? `Tighten by ${Math.round(100 * whole.strength)} %` : "Tighten settings", {
      op: "setSong",
      values: { tighten: whole, edits: planEdits(hits, tempo, whole, sampleRate) },
    });
  };
  const setBpm = (bpm: number) => {
    const next = steadyTempo(tempo, bpm, song.frames / sampleRate);
    change(`Tempo ${bpm.toFixed(2)} bpm`, {
      op: "setSong",
      values: { tempo: next, edits: planEdits(hits, next, settings, sampleRate) },
    });
  };
  const halfPart = (500 * 60) / tempo.bpm / gridParts(grid);
  const furthest = Math.max(10, ...series.flatMap((s) => s.points.map((p) => Math.abs(p[1]))));
  const reach = Math.min(Math.ceil(halfPart / 5) * 5, Math.ceil((1.15 * furthest) / 5) * 5);
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          Early and late{" "}
          <small>
            {mains.length} main strokes, ms from the {grid} grid
          </small>
        </h2>
        <Legend series={series} note="click a stroke to hear it" />
        <div className="two-thirds">
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
                value: 1000 * leave,
                label: `stays within ${(1000 * leave).toFixed(1)} ms`,
                drag: (v, done) =>
                  store({ window: Math.min(0.05, Math.max(0, Math.round(Math.abs(v) * 10) / 10000)) }, done),
              },
            ]}
            onPoint={(s, i) => playback.seek(Math.max(0, series[s]!.points[i]![0] - 0.3) * sampleRate)}
          />
        </div>
        <div className="third">
          <Plot
            caption="Distribution of the offsets before and after"
            series={spread}
            x={{ label: "Offset, ms", min: -reach, max: reach }}
            y={{
              label: "Strokes, %",
              min: 0,
              max: Math.max(10, ...spread.flatMap((s) => s.points.map((p) => p[1]))) * 1.1,
            }}
          />
        </div>
      </div>
      <aside className="settings">
        <section className="panel">
          <header>
            <h3>Move to the grid</h3>
          </header>
          <ParamField
            spec={strengthSpec}
            value={100 * strength}
            sampleRate={sampleRate}
            onChange={(v, done) => store({ strength: Number(v) / 100 }, done)}
          />
          <div className="param">
            <label htmlFor="grid">Grid</label>
            <Form.Select
              id="grid"
              size="sm"
              value={grid}
              onChange={(e) => store({ grid: e.target.value as TightenSettings["grid"] }, true)}
            >
              {grids.map((g) => (
                <option key={g} value={g}>
                  {g.replace("T", " triplets")}
                </option>
              ))}
            </Form.Select>
          </div>
          <ParamField
            spec={windowSpec}
            value={leave}
            sampleRate={sampleRate}
            onChange={(v, done) => store({ window: Number(v) }, done)}
          />
          <ParamField
            spec={largestSpec}
            value={largest}
            sampleRate={sampleRate}
            onChange={(v, done) => store({ largest: Number(v) }, done)}
          />
          {song.edits.length > 0 && (
            <Button size="sm" variant="outline-secondary" onClick={() => store({ strength: 0 }, true)}>
              Take all moves back
            </Button>
          )}
        </section>
        <section className="panel">
          <header>
            <h3>Tempo</h3>
          </header>
          <div className="param">
            <label>Beats per minute</label>
            <TypedField
              spec={bpmSpec}
              value={Math.round(100 * tempo.bpm) / 100}
              sampleRate={sampleRate}
              label="Tempo, bpm"
              onChange={setBpm}
            />
          </div>
          <p className="hint">
            First beat at {tempo.firstBeat.toFixed(3)} s, {tempo.beatsPerBar} beats to the bar.
          </p>
        </section>
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
            <dt>Habit of the {piece && isShell(piece) ? pieceNames[piece].toLowerCase() : "kit"}</dt>
            <dd>{lean(mains, tempo.beats, grid)}</dd>
          </dl>
          <p className="hint">
            Every mic is cut at the same frame and moved by the same amount, so the phase between mics stays.
          </p>
        </section>
      </aside>
    </div>
  );
}

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

function lean(hits: readonly Hit[], beats: readonly number[], grid: TightenSettings["grid"]): string {
  const offsets = hits.map((h) => h.time - nearestGrid(h.time, beats, grid)).sort((a, b) => a - b);
  const middle = 1000 * (offsets[offsets.length >> 1] ?? 0);
  return Math.abs(middle) < 0.5
    ? "on the grid"
    : `${Math.abs(middle).toFixed(1)} ms ${middle > 0 ? "late" : "early"}`;
}
