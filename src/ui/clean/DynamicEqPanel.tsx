"use client";
import { Button, ButtonGroup } from "react-bootstrap";
import { bandValues, dynamicBands, type DynamicBand } from "../../core/processors/dynamicEq/dynamicEq";
import type { Mic, ProcessorState } from "../../core/song/song";
import { ProcessorPanel } from "../shared/ProcessorPanel";

/** How a band is called where there is little room. */
export const bandName = (band: DynamicBand): string =>
  band === "low" ? "Low" : band === "high" ? "High" : band.replace("band", "");

interface Props {
  readonly mic: Mic;
  readonly state: ProcessorState;
  readonly band: DynamicBand;
  readonly onBand: (band: DynamicBand) => void;
}

/** The dynamic EQ, one band at a time. */
export function DynamicEqPanel({ mic, state, band, onBand }: Props) {
  const names = bandValues.map((value) => band + value);
  const first = ["Shape", "Frequency", "Gain", "Range", "Release"].map((value) => band + value);
  return (
    <ProcessorPanel owner={mic} state={state} main={["opens", ...first]} only={["opens", ...names]}>
      <ButtonGroup size="sm" className="band-picker" aria-label="Bands of the dynamic EQ">
        {dynamicBands.map((b) => {
          const works = state.params[`${b}Shape`] !== "off";
          return (
            <Button
              key={b}
              variant={b === band ? "primary" : "outline-secondary"}
              className={works ? "works" : ""}
              aria-pressed={b === band}
              title={works ? `Band ${bandName(b)} works` : `Band ${bandName(b)} is off`}
              onClick={() => onBand(b)}
            >
              {bandName(b)}
            </Button>
          );
        })}
      </ButtonGroup>
    </ProcessorPanel>
  );
}
