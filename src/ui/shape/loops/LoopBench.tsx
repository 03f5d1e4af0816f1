"use client";
import { useState } from "react";
import { Button, Dropdown } from "react-bootstrap";
import { unsureWithin, type LoopStroke } from "../../../core/loops/findLoopStrokes";
import { loopDrums, type LoopDrum } from "../../../core/loops/loopDrums";
import { strokePath, strokeWays, type StrokeWay } from "../../../core/loops/strokePath";
import { pieceNames } from "../../../core/song/pieceNames";
import { levelParam } from "../../../core/song/limits";
import type { Operation } from "../../../core/song/operations";
import type { Bus, Mic } from "../../../core/song/song";
import { api } from "../../shared/api";
import { useEvidence } from "../../shared/evidenceClient";
import { shortName } from "../../shared/format";
import { hear } from "../../shared/hear";
import { Nothing } from "../../shared/Nothing";
import { ParamField } from "../../shared/ParamField";
import { Legend, Plot, type Series } from "../../shared/Plot";
import { useSong } from "../../shared/songStore";

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

const wayTold: Readonly<Record<StrokeWay, string>> = {
  drive: "Drive",
  weight: "Weight",
  brightness: "Brightness",
};

/** Drive, weight or brightness for the whole loop at the strokes of one drum, as a path beside it. */
function AtStrokes({ mic }: { mic: Mic }) {
  const song = useSong((s) => s.song!);
  const drums = loopDrums.filter((drum) => song.hits.some((h) => h.piece === drum));
  const add = (drum: LoopDrum, way: StrokeWay) => {
    const { change, tell } = useSong.getState();
    try {
      const { operation } = strokePath(song, mic, drum, way);
      change(`${wayTold[way]} at the ${pieceNames[drum].toLowerCase()} of ${shortName(mic.file)}`, operation);
    } catch (problem) {
      tell(`${(problem as Error).message}.`);
    }
  };
  return (
    <Dropdown>
      <Dropdown.Toggle
        size="sm"
        variant="outline-primary"
        disabled={mic.muted || drums.length === 0}
        title="A path beside the whole loop that is open at the strokes of one drum alone, in its band; what sounds there at the same time gets it, too"
      >
        Add at the strokes of …
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {drums.map((drum, n) => (
          <div key={drum} role="group" aria-label={pieceNames[drum]}>
            {n > 0 && <Dropdown.Divider />}
            <Dropdown.Header>{pieceNames[drum]}</Dropdown.Header>
            {strokeWays.map((way) => (
              <Dropdown.Item key={way} as="button" onClick={() => add(drum, way)}>
                {wayTold[way]}
              </Dropdown.Item>
            ))}
          </div>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** What was added beside a loop at a drum's strokes: how loud, and the way to its chain. */
function Beside({ mic }: { mic: Mic }) {
  const song = useSong((s) => s.song!);
  const { change, preview, chooseBus, chooseStep } = useSong.getState();
  const follows = (b: Bus): boolean => b.kind === "parallel" && loopDrums.some((d) => d === b.piece);
  const beside = song.buses.filter((b) => follows(b) && mic.sends.some((s) => s.bus === b.id));
  return (
    <div className="beside-loop">
      {beside.map((bus) => (
        <div key={bus.id} role="group" aria-label={bus.name}>
          <ParamField
            spec={{ ...levelParam, label: bus.name }}
            value={bus.level}
            sampleRate={song.sampleRate}
            onChange={(level, done) => {
              const operation: Operation = { op: "setBus", bus: bus.id, values: { level: level as number } };
              if (done) change(`level of ${bus.name}`, operation);
              else preview(operation);
            }}
          />
          <Button
            variant="link"
            size="sm"
            onClick={() => {
              chooseBus(bus.id);
              chooseStep("blend");
            }}
          >
            its chain, in Blend
          </Button>
        </div>
      ))}
    </div>
  );
}

/** A baked loop: its strokes, and its drums taken out as tracks that add up to it. */
export function LoopBench({ mic, back, toLayers }: { mic: Mic; back: () => void; toLayers: () => void }) {
  const song = useSong((s) => s.song!);
  const [busy, setBusy] = useState(false);
  const { sampleRate } = song;
  const ask = { mic: { audio: mic.audio!, start: 0 }, sampleRate };
  const { value, error } = useEvidence("loop", `${mic.audio}`, ask);
  const strokes = value?.strokes ?? [];
  const start = mic.start / sampleRate;
  const series = loopDrums.flatMap((drum): Series[] => {
    const own = strokes.filter((s) => s.drum === drum);
    const at = (s: LoopStroke): [number, number] => [start + s.time, rowOf[drum]];
    return [
      {
        label: pieceNames[drum],
        color: drum,
        kind: "points",
        radius: 5,
        points: own.filter((s) => !isUnsure(s)).map(at),
      },
      {
        label: `${pieceNames[drum]}, not sure`,
        color: drum,
        kind: "points",
        shape: "cross",
        radius: 5,
        points: own.filter(isUnsure).map(at),
      },
    ];
  });
  const take = async () => {
    setBusy(true);
    await useSong.getState().onServer((id, version) => api.takeLoopApart(id, version, mic.id));
    setBusy(false);
  };
  return (
    <>
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
      {value && strokes.length > 0 ? (
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
      ) : (
        value && <Nothing>It can be shaped as a whole, sliced by hand and layered.</Nothing>
      )}
    </>
  );
}
