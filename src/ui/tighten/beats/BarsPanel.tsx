import { Button, ButtonGroup, Form } from "react-bootstrap";
import { number } from "../../../core/params";
import type { Song, Tempo } from "../../../core/song/song";
import { TypedField } from "../../shared/ParamField";
import { meterName, meters } from "../meters";
import { SectionMeters } from "../SectionMeters";
import type { TempoChanges } from "./tempoChange";

const firstSpec = number("First beat", "s", 0, 3600, 0, "Where the first beat lies.");

interface Props {
  readonly song: Song;
  readonly tempo: Tempo;
  readonly changes: TempoChanges;
}

/** Meter, pick-up and where the beats lie. */
export function BarsPanel({ song, tempo, changes: { take, move } }: Props) {
  const beat = 60 / tempo.bpm;
  const pickUps = Array.from({ length: Math.max(tempo.beatsPerBar, tempo.pickUp + 1) }, (_, i) => i);
  return (
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
          {pickUps.map((i) => (
            <option key={i}>{i}</option>
          ))}
        </Form.Select>
      </div>
      <div className="param">
        <label>First beat</label>
        <TypedField
          spec={firstSpec}
          value={Math.round(1e5 * tempo.firstBeat) / 1e5}
          sampleRate={song.sampleRate}
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
  );
}
