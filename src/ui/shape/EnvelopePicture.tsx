import { useMemo, useState } from "react";
import { Button } from "react-bootstrap";
import type { AnyValues } from "../../core/params";
import { processorType } from "../../core/processors";
import type { StrokeEffect } from "../../core/shape/hitReductions";
import { nameOf } from "../../core/song/graph";
import { colorOf } from "../shared/owners";
import { Legend, Plot, type Mark } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { AttackGuide } from "./AttackGuide";
import { envelopeSeries, matchedGain, timeMarks } from "./effectSeries";
import { liftHandles } from "./liftHandles";
import { useLostReduction, type StrokePicturesProps, type Fitted } from "./reductionFit";
import { figuresOf } from "./strokeWords";

interface Props extends StrokePicturesProps, Fitted {
  /** Null while it was not measured yet. */
  readonly value: StrokeEffect | null;
  /** It is measured anew. */
  readonly busy: boolean;
  readonly grip: ((axis: "x" | "y") => Mark) | null;
}

/** The average stroke before and after; the gain that makes it as loud as it was, and the attack sought by ear. */
export function EnvelopePicture({ owner, state, picture, value, busy, grip, fit, fitting }: Props) {
  const set = useParams(owner, state);
  const type = processorType(state.type);
  const color = colorOf(owner);
  /** Values of before the attack was sought by ear. */
  const [guided, setGuided] = useState<AnyValues | null>(null);
  const figures = value && !busy ? figuresOf(value) : null;
  const lost = useLostReduction(state, figures && figures.reduction);
  const thirds = picture.lifts !== undefined;
  const series = useMemo(() => (value ? envelopeSeries(value, color, thirds) : []), [value, color, thirds]);
  const match = figures && matchedGain(type, state, figures.louder);
  const lifts = picture.lifts && value ? liftHandles(picture.lifts, value, state, type, set) : [];
  return (
    <>
      <div className="picture-head">
        <Legend series={series} note={fitting ? "fitting the level …" : ""} />
        {lost !== null && fit && guided === null && (
          <Button size="sm" variant="outline-primary" disabled={fitting} onClick={() => fit(lost)}>
            Back to {lost.toFixed(1)} dB of reduction
          </Button>
        )}
        {fit && state.type === "compressor" && (
          <AttackGuide
            key={state.id}
            owner={owner}
            state={state}
            fit={fit}
            fitting={fitting}
            before={guided}
            setBefore={setGuided}
            usual={picture.usual ? Math.round((picture.usual[0] + picture.usual[1]) / 2) : 5}
          />
        )}
        {type.output !== null && guided === null && (
          <Button
            size="sm"
            variant="outline-primary"
            disabled={match === null}
            title="Sets the gain behind it so that the strokes are as loud as they come in"
            onClick={() => set({ [type.output!]: match! }, true)}
          >
            Match loudness
          </Button>
        )}
      </div>
      <div className="half">
        <Plot
          caption={`Average stroke of ${nameOf(owner)} before and after`}
          series={series}
          x={{ label: "Time from the stroke, ms", min: -10, max: 200 }}
          y={{ label: "Level, dBFS", min: -72, max: 6 }}
          handles={lifts}
          marks={[...timeMarks(state), ...(grip && picture.shows === "reductions" ? [grip("y")] : [])]}
        />
      </div>
    </>
  );
}
