"use client";
import { Button, Form } from "react-bootstrap";
import { hitKinds, type Hit, type HitKind } from "../../../core/song/song";
import { decibels, secondsOf } from "../../shared/format";

const kindNames: Record<HitKind, string> = {
  stroke: "Stroke",
  grace: "Grace note",
  roll: "Roll",
  rim: "On the rim",
};

interface Props {
  readonly time: number;
  /** The stroke there; null: what is there was taken for bleed. */
  readonly hit: Hit | null;
  readonly onChange: (more: Partial<Hit>, label: string) => void;
  readonly onDrop: () => void;
}

/** What a stroke was taken for, and how to call it otherwise. */
export function StrokeFacts({ time, hit, onChange, onDrop }: Props) {
  return (
    <div className="stroke-facts">
      <strong>{secondsOf(time)}</strong>
      {hit ? (
        <>
          <span className="number">{decibels(hit.levelDb)} dBFS</span>
          <span>{hit.sure < 1 ? `${Math.round(100 * hit.sure)} % sure` : "sure"}</span>
          <Form.Select
            size="sm"
            aria-label="Kind of the stroke"
            value={hit.kind}
            onChange={(event) => {
              const kind = event.target.value as HitKind;
              onChange({ kind }, `Call it ${kindNames[kind].toLowerCase()}`);
            }}
          >
            {hitKinds.map((k) => (
              <option key={k} value={k}>
                {kindNames[k]}
              </option>
            ))}
          </Form.Select>
          <Form.Check
            type="switch"
            id="ghost"
            label="Ghost note"
            checked={hit.ghost}
            onChange={() => onChange({ ghost: !hit.ghost }, ghostLabel(hit))}
          />
          <Button size="sm" variant="outline-secondary" onClick={onDrop}>
            Drop
          </Button>
        </>
      ) : (
        <span className="quiet">taken for bleed</span>
      )}
    </div>
  );
}

/** What it is called to make a ghost note a main stroke or the reverse. */
export const ghostLabel = (hit: Hit): string =>
  hit.ghost ? "Call it a main stroke" : "Call it a ghost note";
