"use client";
import { Button } from "react-bootstrap";
import { pieceNames } from "../../core/song/pieceNames";
import type { Bus } from "../../core/song/song";
import { api } from "../shared/api";
import { signed } from "../shared/format";
import { useMeasured } from "../shared/useMeasured";
import { useSong } from "../shared/songStore";
import { rideBus } from "./ride";

/** dB by which a path is ridden by one press. */
const step = 1;

/** A path's fader in steps while it plays, and what it brings to the kit at 0 dB. */
export function PathEffect({ bus }: { bus: Bus }) {
  const song = useSong((s) => s.song!);
  const { value, of, busy, measure } = useMeasured((id) => api.judgePath(id, bus.id));
  return (
    <div className="path-effect">
      <div className="buttons">
        <Button
          size="sm"
          variant="outline-primary"
          aria-keyshortcuts="Alt+ArrowDown"
          onClick={() => rideBus(-step)}
        >
          −1 dB
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          aria-keyshortcuts="Alt+ArrowUp"
          onClick={() => rideBus(step)}
        >
          +1 dB
        </Button>
        <span className="quiet">now {bus.level.toFixed(1).replace("-", "−")} dB</span>
        <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => void measure()}>
          {busy ? "Measuring …" : "What it brings"}
        </Button>
      </div>
      {value && (
        <p className="hint" data-testid="path-effect">
          At 0 dB: {value.drums.map((d) => `${pieceNames[d.piece]} ${signed(d.louderDb, 1)} dB`).join(", ")};
          peak {signed(value.peakDb, 1)}, crest {signed(value.crestDb, 1)} dB; what lies before strokes comes{" "}
          {signed(value.betweenDb, 1)} dB against them
          {value.drums.length > 0 && `, over ${value.drums.reduce((n, d) => n + d.strokes, 0)} strokes`}
          {of !== song && "; the song has changed since"}
        </p>
      )}
    </div>
  );
}
