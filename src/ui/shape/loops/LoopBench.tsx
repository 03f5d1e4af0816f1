"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { unsureWithin, type LoopStroke } from "../../../core/loops/findLoopStrokes";
import { loopDrums, type LoopDrum } from "../../../core/loops/loopDrums";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Mic } from "../../../core/song/song";
import { api } from "../../shared/api";
import { useEvidence } from "../../shared/evidenceClient";
import { shortName } from "../../shared/format";
import { hear } from "../../shared/hear";
import { Nothing } from "../../shared/Nothing";
import { Legend, Plot, type Series } from "../../shared/Plot";
import { useSong } from "../../shared/songStore";
import { AtStrokes, Beside } from "./besideLoop";

/** Row of a drum in the picture. */
const rowOf: Readonly<Record<LoopDrum, number>> = { kick: 1, snare: 2, hat: 3 };
const isUnsure = (s: LoopStroke): boolean => s.sure < 0.5 + unsureWithin;

/** What is struck in a loop, in words. */
function told(strokes: readonly LoopStroke[]): string {
  if (strokes.length === 0) return "no stroke of kick, snare or hat is found in it";
  const counts = loopDrums.map(
    (d) => `${pieceNames[d].toLowerCase()} ${strokes.filter((s) => s.drum === d).length}`,
  );
  const unsure = strokes.filter(isUnsure).length;
  return `${counts.join(", ")}${unsure > 0 ? `; ${unsure} of them not sure` : ""}`;
}

/** Strokes of every drum in a row of its own, those that are not sure as crosses. */
function seriesOf(strokes: readonly LoopStroke[], start: number): Series[] {
  return loopDrums.flatMap((drum): Series[] => {
    const own = strokes.filter((s) => s.drum === drum);
    const at = (s: LoopStroke): [number, number] => [start + s.time, rowOf[drum]];
    const look = { color: drum, kind: "points", radius: 5 } as const;
    return [
      { ...look, label: pieceNames[drum], points: own.filter((s) => !isUnsure(s)).map(at) },
      {
        ...look,
        label: `${pieceNames[drum]}, not sure`,
        shape: "cross",
        points: own.filter(isUnsure).map(at),
      },
    ];
  });
}

/** What is struck in a loop, along the song. */
function StrokePicture({ mic, strokes }: { mic: Mic; strokes: readonly LoopStroke[] }) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const start = mic.start / sampleRate;
  const series = seriesOf(strokes, start);
  return (
    <>
      <Legend
        series={series.filter((s) => s.points.length > 0 && s.shape !== "cross")}
        note="crosses are not sure; press a stroke to hear it"
      />
      <div className="half">
        <Plot
          caption={`Strokes of kick, snare and hat in ${mic.file}`}
          series={series}
          x={{
            label: "Song, s",
            min: Math.floor(start),
            max: Math.ceil(start + mic.frames / sampleRate),
          }}
          y={{
            label: "",
            min: 0.4,
            max: 3.6,
            ticks: [1, 2, 3],
            format: (row) => pieceNames[loopDrums.find((d) => rowOf[d] === row) ?? "loop"],
          }}
          onPoint={(s, i) => hear(series[s]!.points[i]![0], 0.05, 0.4)}
        />
      </div>
    </>
  );
}

interface Props {
  readonly mic: Mic;
  readonly back: () => void;
  readonly toLayers: () => void;
}

/** What can be done with a loop whose strokes are known. */
function LoopHead({ mic, back, toLayers, strokes }: Props & { strokes: readonly LoopStroke[] }) {
  const [busy, setBusy] = useState(false);
  const take = async () => {
    setBusy(true);
    await useSong.getState().onServer((id, version) => api.takeLoopApart(id, version, mic.id));
    setBusy(false);
  };
  return (
    <div className="bench-head">
      <Button size="sm" variant="outline-primary" onClick={back}>
        Back to the chain
      </Button>
      <Button size="sm" disabled={busy || strokes.length === 0 || mic.muted} onClick={() => void take()}>
        {busy ? "Taking it apart …" : "Take apart into kick, snare, hat and rest"}
      </Button>
      <AtStrokes mic={mic} />
      {loopDrums
        .filter((drum) => strokes.some((s) => s.drum === drum))
        .map((drum) => (
          <Button
            key={drum}
            size="sm"
            variant="outline-primary"
            title={`One-shots that play at the strokes of the ${pieceNames[drum].toLowerCase()}`}
            onClick={() => {
              useSong.getState().choosePiece(drum);
              toLayers();
            }}
          >
            Layers under {pieceNames[drum].toLowerCase()}
          </Button>
        ))}
    </div>
  );
}

/** A baked loop: its strokes, and its drums taken out as tracks that add up to it. */
export function LoopBench({ mic, back, toLayers }: Props) {
  const sampleRate = useSong((s) => s.song!.sampleRate);
  const ask = { mic: { audio: mic.audio!, start: 0 }, sampleRate };
  const { value, error } = useEvidence("loop", `${mic.audio}`, ask);
  const strokes = value?.strokes ?? [];
  return (
    <>
      <LoopHead mic={mic} back={back} toLayers={toLayers} strokes={strokes} />
      <h2>
        {shortName(mic.file)}{" "}
        <small data-testid="loop-strokes">
          {error ? `could not be read: ${error}` : value ? told(strokes) : "listening for strokes …"}
        </small>
      </h2>
      <Beside mic={mic} />
      {mic.muted && (
        <p className="lead">
          It is muted: where it was taken apart, its drums stand in the list as tracks of their own, each with
          its chain and fader. One step back it is whole again.
        </p>
      )}
      {strokes.length > 0 ? (
        <StrokePicture mic={mic} strokes={strokes} />
      ) : (
        value && <Nothing>It can be shaped as a whole, sliced by hand and layered.</Nothing>
      )}
    </>
  );
}
