import { Button, Form } from "react-bootstrap";
import { number } from "../../../core/params";
import type { Tempo } from "../../../core/song/song";
import { TypedField } from "../../shared/ParamField";
import { playback, usePlayback } from "../../shared/playback";
import { useTaps, type TempoChanges } from "./tempoChange";

const bpmSpec = number("Tempo", "", 30, 300, 120, "Beats per minute; typed, it replaces the measured ones.");

interface Props {
  readonly tempo: Tempo | null;
  readonly sampleRate: number;
  readonly changes: TempoChanges;
}

/** The tempo typed, measured, followed or tapped, and a click to hear it. */
export function TempoPanel({ tempo, sampleRate, changes: { measure, setBpm } }: Props) {
  const click = usePlayback((s) => s.click);
  const { tapped, tap } = useTaps();
  return (
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
          onChange={setBpm}
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
  );
}
