"use client";
import { Form } from "react-bootstrap";
import { number } from "../../../core/params";
import { ghostWays, layerLimits } from "../../../core/song/layer";
import type { GhostWay, LayerMic } from "../../../core/song/song";
import { ParamField } from "../../shared/ParamField";
import { MidiStrokes } from "./MidiStrokes";
import { setLayer } from "./layerMoves";

const follow = number(
  "Follows the strokes",
  "%",
  0,
  layerLimits.follow,
  100,
  "How far its loudness goes with that of the strokes: 0 is always alike, 100 dB for dB.",
);
const fade = number(
  "Fade at a new stroke",
  "s",
  0.001,
  layerLimits.fade,
  0.005,
  "Time in which a new stroke ends the sound before it.",
  "log",
);
const ghostNames: Readonly<Record<GhostWay, string>> = {
  leave: "stay out",
  play: "are played",
  own: "have sounds of their own",
};

/** How a layer follows the strokes. */
export function LayerSettings({ mic, sampleRate }: { mic: LayerMic; sampleRate: number }) {
  const { layer } = mic;
  return (
    <section className="panel">
      <header>
        <h3>How it plays</h3>
      </header>
      <ParamField
        spec={follow}
        value={layer.follow}
        sampleRate={sampleRate}
        onChange={(v, done) => setLayer(mic, { follow: Number(v) }, done)}
      />
      <div className="param">
        <label htmlFor={`${mic.id}-ghosts`}>Ghost notes</label>
        <Form.Select
          id={`${mic.id}-ghosts`}
          size="sm"
          value={layer.ghosts}
          onChange={(e) => setLayer(mic, { ghosts: e.target.value as GhostWay })}
        >
          {ghostWays.map((way) => (
            <option key={way} value={way}>
              {ghostNames[way]}
            </option>
          ))}
        </Form.Select>
      </div>
      <Form.Check
        id={`${mic.id}-rings`}
        label="Rings on under the next stroke"
        checked={layer.ringsOn}
        onChange={(e) => setLayer(mic, { ringsOn: e.target.checked })}
      />
      {!layer.ringsOn && (
        <ParamField
          spec={fade}
          value={layer.fade}
          sampleRate={sampleRate}
          onChange={(v, done) => setLayer(mic, { fade: Number(v) }, done)}
        />
      )}
      <MidiStrokes mic={mic} />
    </section>
  );
}
