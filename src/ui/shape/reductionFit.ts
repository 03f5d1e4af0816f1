import { useEffect, useState } from "react";
import type { AnyValues } from "../../core/params";
import type { PictureOf } from "../../core/processor";
import { strokesIn } from "../../core/shape/heardDrums";
import type { Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { inputOf } from "../shared/chainInput";
import { askEvidence } from "../shared/evidenceClient";
import { useParams } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";

export interface StrokePicturesProps {
  readonly owner: Owner;
  readonly state: ProcessorState;
  readonly picture: Extract<PictureOf, { over: "strokes" }>;
}

/** Seeks the level at which the strokes are reduced by so much; `values` are set with it, as one step. */
export interface Fitted {
  readonly fitting: boolean;
  /** Null where there is no level to be fitted. */
  readonly fit: ((wishedDb: number, values?: AnyValues) => void) | null;
}

/** A reduction that is sought again: the level is fitted to it over the strokes as they come in. */
export function useFit({ owner, state, picture }: StrokePicturesProps): Fitted {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const set = useParams(owner, state);
  const [fitting, setFitting] = useState(false);
  const { level } = picture;
  if (!level || picture.shows !== "reductions") return { fitting: false, fit: null };
  const fit = (wishedDb: number, values: AnyValues = {}) => {
    const { input } = inputOf(song, id, owner, state.id);
    const { mains } = strokesIn(song, owner);
    setFitting(true);
    const processor = { ...state, params: { ...state.params, ...values } };
    askEvidence("fit", { input, processor, level, mains, wishedDb })
      .then(({ threshold }) => set({ ...values, [level]: threshold }, true))
      .catch((error: Error) => useSong.getState().tell(`The level could not be fitted: ${error.message}.`))
      .finally(() => setFitting(false));
  };
  return { fitting, fit };
}

/** From this much on a reduction counts as another one, dB. */
const otherFrom = 0.3;

/** The reduction of before the attack alone was turned, when the strokes get another one now; null: none was lost. */
export function useLostReduction({ params }: ProcessorState, settled: number | null): number | null {
  const { attack, ...rest } = params;
  const others = JSON.stringify(rest);
  const [before, setBefore] = useState<{ attack: unknown; others: string; reduction: number } | null>(null);
  useEffect(() => {
    if (settled === null) return;
    setBefore((b) =>
      b && b.attack !== attack && b.others === others ? b : { attack, others, reduction: settled },
    );
  }, [settled, attack, others]);
  const turned = before !== null && before.attack !== attack && before.others === others;
  return turned && settled !== null && Math.abs(settled - before.reduction) > otherFrom
    ? before.reduction
    : null;
}
