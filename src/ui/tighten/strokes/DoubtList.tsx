"use client";
import { Button, Table } from "react-bootstrap";
import type { Doubt } from "../../../core/hits/corrections";
import { decibels, secondsOf } from "../../shared/format";

/** Most rows that are drawn. */
const shown = 60;

interface Props {
  readonly doubts: readonly Doubt[];
  /** Instant of the one that is chosen, s; null: none. */
  readonly chosen: number | null;
  readonly onChoose: (doubt: Doubt) => void;
  readonly onSettle: (doubt: Doubt, take: boolean) => void;
}

/** Events near the limit between stroke and bleed, to accept or drop. */
export function DoubtList({ doubts, chosen, onChoose, onSettle }: Props) {
  const act = (label: string, d: Doubt, take: boolean) => (
    <Button
      size="sm"
      variant="link"
      aria-label={`${label} the stroke at ${secondsOf(d.time)}`}
      onClick={(event) => {
        event.stopPropagation();
        onSettle(d, take);
      }}
    >
      {label}
    </Button>
  );
  return (
    <section className="panel doubts">
      <header>
        <h3>Doubtful</h3>
        <small className="quiet">Enter accepts, Backspace drops</small>
      </header>
      {doubts.length === 0 ? (
        <p className="hint">Nothing lies near the limit between stroke and bleed.</p>
      ) : (
        <div className="scroll-list" tabIndex={0}>
          <Table size="sm">
            <tbody>
              {doubts.slice(0, shown).map((d) => (
                <tr key={d.time} className={chosen === d.time ? "chosen" : ""} onClick={() => onChoose(d)}>
                  <td className="number">{secondsOf(d.time)}</td>
                  <td className="number">{decibels(d.levelDb)}</td>
                  <td>{d.taken ? "stroke" : "bleed"}</td>
                  <td className="acts">
                    {act("Accept", d, true)}
                    {act("Drop", d, false)}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </div>
      )}
    </section>
  );
}
