import { useMemo } from "react";
import { barLines } from "../../../core/grid/bars";
import { isShell, type Hit, type Song, type Tempo } from "../../../core/song/song";
import { Legend, Plot, type Mark, type Series } from "../../shared/Plot";
import type { TempoChanges } from "./tempoChange";

/** Tempo of every bar. */
const tempoPoints = (tempo: Tempo): [number, number][] =>
  barLines(tempo).flatMap(({ seconds, beats }): [number, number][] => {
    const first = tempo.beats.findIndex((b) => b >= seconds - 1e-6);
    const end = tempo.beats[first + beats];
    return end === undefined ? [] : [[seconds, (60 * beats) / (end - seconds)]];
  });

function TempoOfBars({ tempo, seconds }: { tempo: Tempo; seconds: number }) {
  const points = useMemo(() => tempoPoints(tempo), [tempo]);
  const values = [tempo.bpm, ...points.map((p) => p[1])];
  const [min, max] = [Math.floor(Math.min(...values) - 2), Math.ceil(Math.max(...values) + 2)];
  return (
    <div className="half">
      <Plot
        caption={`Tempo of ${points.length} bars`}
        series={[{ label: "tempo of the bar", color: "accent", width: 2, points }]}
        x={{ label: "Time, s", min: 0, max: Math.ceil(seconds) }}
        y={{ label: "Tempo of each bar, bpm", min, max }}
      />
    </div>
  );
}

/** End of the second bar, s. */
const openingEnd = ({ beats, pickUp, beatsPerBar }: Tempo): number =>
  beats[Math.min(beats.length - 1, pickUp + 2 * beatsPerBar)]!;

/** Strokes of the first two bars, a row a kind of drum. */
function openingSeries(tempo: Tempo, hits: readonly Hit[]): Series[] {
  const shown = hits.filter((h) => h.time < openingEnd(tempo));
  const row = (
    look: Pick<Series, "label" | "color" | "shape">,
    y: number,
    take: (h: Hit) => boolean,
  ): Series => ({
    ...look,
    kind: "points",
    radius: 4,
    points: shown.filter(take).map((h) => [h.time, y]),
  });
  const isTom = ({ piece }: Hit) => isShell(piece) && piece !== "kick" && piece !== "snare";
  return [
    row({ label: "kick", color: "kick", shape: "rect" }, 1, (h) => h.piece === "kick"),
    row({ label: "snare", color: "snare", shape: "circle" }, 2, (h) => h.piece === "snare" && !h.ghost),
    row({ label: "toms", color: "tom", shape: "triangle" }, 3, isTom),
    row({ label: "hat and cymbals", color: "hat", shape: "cross" }, 4, (h) => !isShell(h.piece)),
  ];
}

/** Beats as lines; the first is dragged to where it belongs. */
function beatMarks(tempo: Tempo, until: number, move: TempoChanges["move"]): Mark[] {
  const lines = barLines(tempo);
  return tempo.beats
    .filter((b) => b <= until)
    .map((b, i) => {
      const line = lines.find((l) => Math.abs(l.seconds - b) < 1e-6);
      const drag = (v: number, done: boolean) => done && move(v - b, "Move the first beat");
      return {
        id: `beat${i}`,
        axis: "x",
        value: b,
        label: line ? `bar ${line.bar}` : "",
        dashed: !line,
        color: i === 0 ? "accent" : "ink-soft",
        ...(i === 0 ? { drag } : {}),
      };
    });
}

interface Props {
  readonly song: Song;
  readonly tempo: Tempo;
  readonly move: TempoChanges["move"];
}

/** The tempo of every bar, and the strokes of the first two bars against the beats. */
export function BeatPictures({ song, tempo, move }: Props) {
  const { hits, frames, sampleRate } = song;
  const opening = useMemo(() => openingSeries(tempo, hits), [tempo, hits]);
  const from = Math.max(0, Math.floor(10 * (tempo.beats[0]! - 60 / tempo.bpm)) / 10);
  const to = Math.ceil(10 * openingEnd(tempo)) / 10;
  return (
    <>
      <TempoOfBars tempo={tempo} seconds={frames / sampleRate} />
      <Legend series={opening} note="drag the first beat to where it belongs" />
      <div className="half">
        <Plot
          caption="Strokes of the first two bars against the beats"
          series={opening}
          x={{ label: "Time, s", min: from, max: to }}
          y={{ label: "", min: 0.4, max: 4.6, format: () => "" }}
          marks={beatMarks(tempo, to, move)}
        />
      </div>
    </>
  );
}
