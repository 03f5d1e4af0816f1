"use client";
import { Button } from "react-bootstrap";
import type { CymbalPlace } from "../../core/clean/stereoPosition";
import { api } from "../shared/api";
import { pieceNames } from "../../core/song/pieceNames";
import { useSong } from "../shared/songStore";
import { usePlaces } from "./placesStore";
import { useMeasured } from "../shared/useMeasured";

/** Share of the picture's width beside which a cymbal has left its place in the overheads. */
const moved = 0.1;

const said = (p: number): string =>
  Math.abs(p) < 0.02 ? "middle" : `${Math.round(100 * Math.abs(p))} % ${p < 0 ? "left" : "right"}`;

/** One cymbal between left and right: in the overheads, with all close mics, and cleaned. */
function Line({ place }: { place: CymbalPlace }) {
  const x = (p: number) => 150 + 140 * p;
  const { overheads, before, after, piece, strokes } = place;
  const off = Math.abs(after - overheads) > moved;
  return (
    <tr>
      <td className="name">
        <strong>{pieceNames[piece]}</strong> <span className="quiet">{strokes} strokes</span>
      </td>
      <td>
        <svg
          viewBox="0 0 300 24"
          width="300"
          height="24"
          role="img"
          aria-label={`${pieceNames[piece]}: overheads ${said(overheads)}, close mics too ${said(before)}, cleaned ${said(after)}`}
        >
          <line x1="10" x2="290" y1="12" y2="12" stroke="var(--line-strong)" />
          <line x1="150" x2="150" y1="6" y2="18" stroke="var(--line-strong)" />
          <rect
            x={x(overheads) - 6}
            y="6"
            width="12"
            height="12"
            fill="none"
            stroke="var(--ink)"
            strokeWidth="1.5"
          />
          <circle
            cx={x(before)}
            cy="12"
            r="5"
            fill="var(--paper)"
            stroke="var(--ink-soft)"
            strokeWidth="1.5"
          />
          <circle cx={x(after)} cy="12" r="4" fill="var(--accent)" />
        </svg>
      </td>
      <td className="number">{said(overheads)}</td>
      <td className="number">{said(before)}</td>
      <td className={`number ${off ? "warn" : ""}`}>{said(after)}</td>
    </tr>
  );
}

/** Where hat and cymbals sit between left and right, before and after cleaning. */
export function CymbalPlaces() {
  const song = useSong((s) => s.song!);
  const {
    value: measured,
    of,
    busy,
    measure,
  } = useMeasured(async (id) => {
    const found = await api.measurePlaces(id);
    usePlaces.setState({ song: id, places: found.places });
    return found;
  });
  const old = of !== null && of.mics !== song.mics;
  return (
    <section className="mono-check" aria-label="Where the cymbals sit">
      <header>
        <h3>Where the cymbals sit</h3>
        <Button size="sm" variant="outline-primary" disabled={busy} onClick={() => void measure()}>
          {busy ? "Measuring …" : measured ? "Measure again" : "Measure"}
        </Button>
        <span className="hint">
          {measured
            ? `above 3 kHz at their strokes${old ? "; something was changed since" : ""}. Square: overheads alone; ring: with all close mics; dot: these cleaned. The plan shows it, too.`
            : "Between left and right, in the overheads alone, with all close mics, and cleaned."}
        </span>
      </header>
      {measured && (
        <table className={`table table-sm mic-table ${old ? "old" : ""}`}>
          <thead>
            <tr>
              <th>Cymbal</th>
              <th>left — right</th>
              <th className="number">Overheads</th>
              <th className="number">Close mics too</th>
              <th className="number">Cleaned</th>
            </tr>
          </thead>
          <tbody>
            {measured.places.map((p) => (
              <Line key={p.piece} place={p} />
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
