import { Button } from "react-bootstrap";
import type { Tone } from "../../../core/facts/facts";
import { ringTold } from "../../../core/shape/findTone";
import { addedGain, frequencyOf, type Bands } from "./bands";

/** How a ring is cut by a press. */
const ringCut = { Gain: -7, Q: 8, Shape: "bell" } as const;
const lift = { Ratio: 1, Gain: addedGain, Q: 1.2, Shape: "bell" } as const;
/** How far a tie may lie off the fundamental that was found, as a share. */
const tieOff = 0.005;

interface Props {
  readonly bands: Bands;
  readonly tone: Tone | undefined;
  /** What tied bands are tied to, Hz. */
  readonly fundamental: number;
  readonly tie: (frequency: number) => void;
}

/** Bands that come in by a press: anywhere, or at what was found of the drum. */
export function BandButtons({ bands, tone, fundamental, tie }: Props) {
  const { room, near, put, tied } = bands;
  const off = tone && Math.abs(fundamental / tone.fundamental - 1) > tieOff;
  return (
    <>
      <Button size="sm" variant="outline-primary" disabled={!room} onClick={bands.add}>
        Add a band
      </Button>
      {tone && room && !near(tone.fundamental) && (
        <Button
          size="sm"
          variant="outline-primary"
          title="A band that follows the drum's fundamental"
          onClick={() => put(lift, { fundamental: frequencyOf(tone.fundamental) })}
        >
          Lift the fundamental
        </Button>
      )}
      {tone && tone.ringDb >= ringTold && room && !near(tone.ring) && (
        <Button
          size="sm"
          variant="outline-primary"
          title="A narrow cut where the drum rings"
          onClick={() => put({ Frequency: frequencyOf(tone.ring), Ratio: 0, ...ringCut })}
        >
          Cut the ring
        </Button>
      )}
      {tone && tied && off && (
        <Button size="sm" variant="outline-primary" onClick={() => tie(frequencyOf(tone.fundamental))}>
          Tie to {tone.fundamental.toFixed(0)} Hz
        </Button>
      )}
    </>
  );
}
