"use client";
import { useMemo } from "react";
import type { NumberParam } from "../../core/params";
import { processorType } from "../../core/processors";
import { foldedBelow, type FoldLoss } from "../../core/shape/foldLoss";
import { nameOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { inputOf } from "../shared/chainInput";
import { useEvidence } from "../shared/evidenceClient";
import { shortName, signed } from "../shared/format";
import { Nothing } from "../shared/Nothing";
import { colorOf } from "../shared/owners";
import { frequencyAxis, Legend, Plot, type Mark, type Series } from "../shared/Plot";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";

interface Props {
  readonly owner: Owner;
  readonly state: ProcessorState;
  /** Parameter that says below which frequency the sides are folded. */
  readonly below: string;
}

/** What folding costs, below the corner that is set and as a whole, in words. */
function told(value: FoldLoss, corner: number, folds: boolean): string {
  const { lossDb, frequencies } = value;
  const worst = lossDb.reduce((at, db, i) => (db < lossDb[at]! ? i : at), 0);
  const set = folds
    ? `folded below ${corner.toFixed(0)} Hz: ${signed(foldedBelow(value, corner), 1)} dB there; `
    : "";
  return `${set}folded whole: ${signed(foldedBelow(value, Infinity), 1)} dB, at worst ${signed(lossDb[worst]!, 0)} dB at ${frequencies[worst]!.toFixed(0)} Hz`;
}

const cornerMark = (corner: number, folds: boolean, drag: Mark["drag"]): Mark => ({
  id: "below",
  axis: "x",
  value: Math.max(frequencyAxis.min, corner),
  label: folds ? `folded below ${corner.toFixed(0)} Hz: drag` : "nothing is folded: drag",
  ...(drag && { drag }),
});

/** What is lost of the strokes where the sides of a pair or bus are folded to one, by frequency, and below the corner that is set. */
export function SidesPicture({ owner, state, below }: Props) {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const set = useParams(owner, state);
  const strokes = useMemo(() => strokesIn(song, owner), [song, owner]);
  const { input, key } = inputOf(song, id, owner, state.id);
  const asked = strokes.mains.length > 0 ? { input, mains: strokes.mains } : null;
  const { value, busy, error } = useEvidence("sides", asked ? key : "", asked);
  const color = colorOf(owner);
  const series = useMemo((): Series[] => {
    if (!value) return [];
    const points = value.lossDb.map((db, i): [number, number] => [value.frequencies[i]!, db]);
    return [{ label: "left when folded", color, width: 2.5, points }];
  }, [value, color]);
  if (strokes.mains.length === 0) return <Nothing>No main stroke is known that it could be read at.</Nothing>;
  const spec = processorType(state.type).params[below] as NumberParam;
  const corner = state.params[below] as number;
  const folds = corner > spec.min;
  const mark = cornerMark(corner, folds, (x, done) =>
    set(
      { [below]: Math.round(Math.min(spec.max, Math.max(spec.min, x))) },
      done,
      state.on ? undefined : true,
    ),
  );
  return (
    <>
      <h2>
        {shortName(nameOf(owner))}: {processorType(state.type).label}{" "}
        <small data-testid="fold">
          {error
            ? `the picture could not be made: ${error}`
            : busy
              ? "measuring …"
              : !value
                ? "one channel: there is nothing to fold"
                : told(value, corner, folds)}
        </small>
      </h2>
      <Legend
        series={series}
        note={value ? `${value.strokes} strokes; 0 loses nothing, −3 dB is what differs wholly` : ""}
      />
      <div className="whole">
        <Plot
          caption={`What folding ${nameOf(owner)} to mono costs by frequency`}
          series={series}
          x={frequencyAxis}
          y={{ label: "Change when folded, dB", min: -20, max: 1 }}
          marks={[mark]}
        />
      </div>
    </>
  );
}
