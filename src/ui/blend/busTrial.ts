import { trialFigures, type Trial } from "../../core/blend/trial";
import { strokesIn } from "../../core/shape/heardDrums";
import type { Bus, ProcessorState, Song } from "../../core/song/song";
import { inputOf } from "../shared/chainInput";
import { askEvidence } from "../shared/evidenceClient";

/** A trial of a bus's processor in the song with that id; what feeds the bus must be saved. */
export function busTrial(song: Song, id: string, bus: Bus, state: ProcessorState): Trial {
  const { input } = inputOf(song, id, bus, state.id);
  const { mains } = strokesIn(song, bus);
  const as = (params: ProcessorState["params"]) => ({ ...state, params: { ...state.params, ...params } });
  return {
    threshold: async (params, wishedDb) =>
      (await askEvidence("fit", { input, processor: as(params), level: "threshold", mains, wishedDb }))
        .threshold,
    effect: async (params) =>
      trialFigures(await askEvidence("effect", { input, processor: as(params), mains, ring: null })),
  };
}
