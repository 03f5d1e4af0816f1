"use client";
import { useMemo, useRef, useState } from "react";
import { Button, ButtonGroup, Form } from "react-bootstrap";
import { barLines } from "../../core/grid/bars";
import { measureTempo } from "../../core/grid/measureTempo";
import { movedTempo, steadyTempo, tappedBpm } from "../../core/grid/steadyTempo";
import { number } from "../../core/params";
import { isShell, type Tempo } from "../../core/song/song";
import { Nothing } from "../shared/Nothing";
import { TypedField } from "../shared/ParamField";
import { Legend, Plot, type Series } from "../shared/Plot";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { meterName, meters } from "./meters";
import { changePlaying } from "./playingChange";
import { SectionMeters } from "./SectionMeters";

const bpmSpec = number("Tempo", "", 30, 300, 120, "Beats per minute; typed, it replaces the measured ones.");
const firstSpec = number("First beat", "s", 0, 3600, 0, "Where the first beat lies.");
/** Tempo of every bar. */
const tempoPoints = (tempo: Tempo): [number, number][] =>
  barLines(tempo).flatMap(({ seconds, beats }): [number, number][] => {
    const first = tempo.beats.findIndex((b) => b >= seconds - 1e-6);
    const end = tempo.beats[first + beats];
    return end === undefined ? [] : [[seconds, (60 * beats) / (end - seconds)]];
  });

/** Beats: measured, followed, tapped or typed; meter, pick-up, first beat. */
export function BeatBench() {
  const song = useSong((s) => s.song!);
  const click = usePlayback((s) => s.click);
  const { tempo, hits, sampleRate } = song;
  const seconds = song.frames / sampleRate;
  const taps = useRef<number[]>([]);
  const [tapped, setTapped] = useState<number | null>(null);
  const points = useMemo(() => (tempo ? tempoPoints(tempo) : []), [tempo]);
  const opening = useMemo((): Series[] => {
    if (!tempo) return [];
    const until = tempo.beats[Math.min(tempo.beats.length - 1, tempo.pickUp + 2 * tempo.beatsPerBar)]!;
    const shown = hits.filter((h) => h.time < until);
    const strokes = (label: string, color: string, shape: Series["shape"], take: (h: (typeof hits)[number]) => boolean, y: number): Series => ({ label, color, kind: "points", radius: 4, shape: shape ?? "circle", points: shown.filter(take).map((h) => [h.time, y]) }); // prettier-ignore
    return [
      strokes("kick", "kick", "rect", (h) => h.piece === "kick", 1),
      strokes("snare", "snare", "circle", (h) => h.piece === "snare" && !h.ghost, 2),
      strokes("toms", "tom", "triangle", (h) => isShell(h.piece) && h.piece !== "kick" && h.piece !== "snare", 3), // prettier-ignore
      strokes("hat and cymbals", "hat", "cross", (h) => !isShell(h.piece), 4),
    ];
  }, [tempo, hits]);

  const take = (next: Tempo | null, label: string) => {
    if (next) changePlaying(label, { tempo: next });
    else
      useSong.getState().tell("There are too few strokes for a tempo. Type it, or tap it while you listen.");
  };
  const measure = (follow: "never" | "always" | undefined, label: string) =>
    take(measureTempo(hits, seconds, { follow }), label);
  const setBpm = (bpm: number) => {
    const found = measureTempo(hits, seconds, { bpm, ...(tempo ? { beatsPerBar: tempo.beatsPerBar } : {}) });
    const base = tempo ?? found;
    const label = `Tempo ${bpm.toFixed(2)} bpm`;
    if (tempo) take(steadyTempo(tempo, bpm, seconds), label);
    else take(base, label);
  };
  const tap = () => {
    const now = performance.now() / 1000;
    const list = taps.current;
    if (list.length > 0 && now - list[list.length - 1]! > 2.5) list.length = 0;
    list.push(now);
    setTapped(tappedBpm(list));
  };
  if (hits.length === 0 && !tempo)
    return <Nothing>Analyse the kit in Gather first; then the beats are measured from its strokes.</Nothing>;
  const move = (by: number, label: string) => tempo && take(movedTempo(tempo, by), label);
  const lines = tempo ? barLines(tempo) : [];
  const beat = tempo ? 60 / tempo.bpm : 0.5;
  const from = tempo ? Math.max(0, Math.floor(10 * (tempo.beats[0]! - beat)) / 10) : 0;
  const to = tempo
    ? Math.ceil(10 * tempo.beats[Math.min(tempo.beats.length - 1, tempo.pickUp + 2 * tempo.beatsPerBar)]!) /
      10
    : 4;
  const values = points.map((p) => p[1]);
  const low = Math.floor(Math.min(...values, tempo?.bpm ?? 120) - 2);
  const high = Math.ceil(Math.max(...values, tempo?.bpm ?? 120) + 2);
  return (
    <div className="bench-columns">
      <div className="evidence">
        <h2>
          {tempo ? `${tempo.bpm.toFixed(2)} bpm` : "No tempo yet"}{" "}
          <small data-testid="beats">
            {tempo &&
              `${meterName(tempo)}, ${tempo.beats.length} beats, ${tempo.follows ? "following the playing" : tempo.meters.length > 0 ? "steady in stretches" : "steady"}`}
          </small>
        </h2>
        {tempo && (
          <>
            <div className="half">
              <Plot
                caption={`Tempo of ${points.length} bars`}
                series={[{ label: "tempo of the bar", color: "accent", width: 2, points }]}
                x={{ label: "Time, s", min: 0, max: Math.ceil(seconds) }}
                y={{ label: "Tempo of each bar, bpm", min: low, max: high }}
              />
            </div>
            <Legend series={opening} note="drag the first beat to where it belongs" />
            <div className="half">
              <Plot
                caption="Strokes of the first two bars against the beats"
                series={opening}
                x={{ label: "Time, s", min: from, max: to }}
                y={{ label: "", min: 0.4, max: 4.6, format: () => "" }}
                marks={tempo.beats
                  .filter((b) => b <= to)
                  .map((b, i) => {
                    const line = lines.find((l) => Math.abs(l.seconds - b) < 1e-6);
                    return {
                      id: `beat${i}`,
                      axis: "x" as const,
                      value: b,
                      label: line ? `bar ${line.bar}` : "",
                      dashed: !line,
                      color: i === 0 ? "accent" : "ink-soft",
                      ...(i === 0
                        ? { drag: (v: number, done: boolean) => { if (done) move(v - b, "Move the first beat"); } } // prettier-ignore
                        : {}),
                    };
                  })}
              />
            </div>
          </>
        )}
      </div>
      <aside className="settings">
        <section className="panel">
          <header>
            <h3>Tempo</h3>
          </header>
          <div className="param">
            <label>Beats per minute</label>
            <TypedField
              spec={bpmSpec}
              value={Math.round(100 * (tempo?.bpm ?? 120)) / 100}
              sampleRate={sampleRate}
              label="Tempo, bpm"
              onChange={(v) => setBpm(v)}
            />
          </div>
          <div className="row-buttons">
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => measure("never", "Steady tempo, measured")}
            >
              Measure steady
            </Button>
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => measure("always", "Beats follow the playing")}
            >
              Follow the playing
            </Button>
          </div>
          <div className="row-buttons">
            <Button size="sm" variant="outline-secondary" onClick={tap}>
              Tap {tapped ? `${tapped.toFixed(1)} bpm` : "here in time"}
            </Button>
            {tapped && (
              <Button size="sm" onClick={() => setBpm(Math.round(10 * tapped) / 10)}>
                Take it
              </Button>
            )}
          </div>
          <Form.Check
            type="switch"
            id="click"
            label="Click with the drums"
            checked={click}
            onChange={() => playback.setClick(!click)}
          />
        </section>
        {tempo && (
          <section className="panel">
            <header>
              <h3>Bars</h3>
            </header>
            <div className="param">
              <label htmlFor="meter">Meter</label>
              <Form.Select
                id="meter"
                size="sm"
                value={meterName(tempo)}
                onChange={(e) => take({ ...tempo, ...meters[e.target.value]! }, `Meter ${e.target.value}`)}
              >
                {Object.keys(meters).map((m) => (
                  <option key={m}>{m}</option>
                ))}
              </Form.Select>
            </div>
            <div className="param">
              <label htmlFor="pick-up">Beats before bar 1</label>
              <Form.Select
                id="pick-up"
                size="sm"
                value={tempo.pickUp}
                onChange={(e) =>
                  take({ ...tempo, pickUp: Number(e.target.value) }, `Pick-up of ${e.target.value} beats`)
                }
              >
                {Array.from({ length: Math.max(tempo.beatsPerBar, tempo.pickUp + 1) }, (_, i) => (
                  <option key={i}>{i}</option>
                ))}
              </Form.Select>
            </div>
            <div className="param">
              <label>First beat</label>
              <TypedField
                spec={firstSpec}
                value={Math.round(1e5 * tempo.firstBeat) / 1e5}
                sampleRate={sampleRate}
                label="First beat, s"
                onChange={(v) => move(v - tempo.firstBeat, "Move the first beat")}
              />
            </div>
            <ButtonGroup size="sm" aria-label="Move all beats">
              <Button variant="outline-secondary" onClick={() => move(-beat, "Beats one earlier")}>
                One beat earlier
              </Button>
              <Button variant="outline-secondary" onClick={() => move(beat, "Beats one later")}>
                One later
              </Button>
            </ButtonGroup>
            <SectionMeters tempo={tempo} sections={song.sections} take={take} />
          </section>
        )}
      </aside>
    </div>
  );
}
