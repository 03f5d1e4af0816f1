"use client";
import { Button, Form } from "react-bootstrap";
import { VolumeUp } from "react-bootstrap-icons";
import type { LayerMic, OneShot } from "../../../core/song/song";
import { signed } from "../../shared/format";
import { hearShot } from "./hearShot";
import { setLayer } from "./layerMoves";

/** The sounds of a layer: which take part, how loud and how clean each is, each to hear. */
export function LayerSounds({ mic, sampleRate }: { mic: LayerMic; sampleRate: number }) {
  const { sounds } = mic.layer;
  const set = (index: number, values: Partial<OneShot>) =>
    setLayer(mic, { sounds: sounds.map((s, i) => (i === index ? { ...s, ...values } : s)) });
  return (
    <section className="panel">
      <header>
        <h3>Sounds</h3>
        <small className="quiet">{sounds.filter((s) => s.on).length} take part</small>
      </header>
      <div className="layer-sounds">
        {sounds.map((s, i) => (
          <div key={`${s.from} ${s.name}`} className="layer-sound">
            <Form.Check
              id={`${mic.id}-sound-${i}`}
              label={s.name}
              checked={s.on}
              onChange={(e) => set(i, { on: e.target.checked })}
            />
            <span className="quiet" title="Peak, and how far the bleed lies under its first 100 ms">
              {signed(s.levelDb, 1)} dBFS
              {s.cleanDb !== null && `, clean by ${s.cleanDb.toFixed(0)} dB`}
            </span>
            <Form.Check
              id={`${mic.id}-ghost-${i}`}
              label="ghosts"
              title="It is for ghost notes"
              checked={s.ghost}
              onChange={(e) => set(i, { ghost: e.target.checked })}
            />
            <Button
              size="sm"
              variant="outline-primary"
              aria-label={`Hear ${s.name}`}
              onClick={() => void hearShot(mic, s, sampleRate)}
            >
              <VolumeUp aria-hidden />
            </Button>
          </div>
        ))}
      </div>
    </section>
  );
}
