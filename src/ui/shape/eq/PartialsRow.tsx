"use client";
import { Button } from "react-bootstrap";
import type { Tone } from "../../../core/facts/facts";
import type { Partial } from "../../../core/shape/partials";

/** How a partial is cut by a press. */
const cutOf = ({ ratio }: Partial) => ({
  Ratio: Math.min(64, Math.round(100 * ratio) / 100),
  Gain: -4,
  Q: 6,
  Shape: "bell",
});
/** Nearer than this, octaves, it is the same tone. */
const same = 0.06;

/** Partials that are not marked already: neither the fundamental nor the ring. */
export const overtones = (found: readonly Partial[] | null, tone: Tone | undefined): readonly Partial[] =>
  (found ?? []).filter(({ frequency }) =>
    [tone?.fundamental, tone?.ring].every((f) => !f || Math.abs(Math.log2(frequency / f)) > same),
  );

interface Props {
  readonly found: readonly Partial[];
  /** A band is there already, or none is left. */
  readonly taken: (partial: Partial) => boolean;
  readonly cut: (band: Record<string, number | string>) => void;
}

/** The tones in which a drum rings, with how long they do; a press cuts one, tied to the fundamental. */
export function PartialsRow({ found, taken, cut }: Props) {
  if (found.length === 0) return null;
  return (
    <div className="partials" role="group" aria-label="Partials">
      <span className="quiet">Partials, T60</span>
      {found.map((p) => (
        <Button
          key={p.frequency}
          size="sm"
          variant="outline-primary"
          disabled={taken(p)}
          title={`${p.levelDb.toFixed(0)} dB against the fundamental, ${p.standsOutDb.toFixed(0)} dB out of what lies around; a press cuts it, tied to the fundamental`}
          onClick={() => cut(cutOf(p))}
        >
          {p.frequency.toFixed(0)} Hz ×{p.ratio.toFixed(2)}
          {p.t60 === null ? "" : `, ${p.t60.toFixed(2)} s`}
        </Button>
      ))}
    </div>
  );
}
