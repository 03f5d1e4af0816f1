"use client";
import { Button, Dropdown } from "react-bootstrap";
import { loopDrums, type LoopDrum } from "../../../core/loops/loopDrums";
import { strokePath, strokeWays, type StrokeWay } from "../../../core/loops/strokePath";
import { levelParam } from "../../../core/song/limits";
import type { Operation } from "../../../core/song/operations";
import { pieceNames } from "../../../core/song/pieceNames";
import type { Bus, Mic } from "../../../core/song/song";
import { shortName } from "../../shared/format";
import { ParamField } from "../../shared/ParamField";
import { useSong } from "../../shared/songStore";

const wayTold: Readonly<Record<StrokeWay, string>> = {
  drive: "Drive",
  weight: "Weight",
  brightness: "Brightness",
};

/** Drive, weight or brightness for the whole loop at the strokes of one drum, as a path beside it. */
export function AtStrokes({ mic }: { mic: Mic }) {
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
export function Beside({ mic }: { mic: Mic }) {
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
