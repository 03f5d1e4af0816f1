import type { Operation } from "./operations";
import type { Bus, Mic, ProcessorState } from "./song";

/** Sets parameters of a processor in a section, by its id, or null: in the whole song; `on` switches it as well. */
export function setParams(
  owner: Mic | Bus,
  state: ProcessorState,
  params: ProcessorState["params"],
  section: string | null,
  on?: boolean,
): Operation {
  const own = section !== null && Object.keys(params).length > 0;
  return {
    op: "setProcessor",
    owner: owner.id,
    processor: state.id,
    ...(own
      ? { bySection: { ...state.bySection, [section]: { ...state.bySection?.[section], ...params } } }
      : { params }),
    ...(on === undefined ? {} : { on }),
  };
}

/** Values of a processor as they hold in a section, or in the song. */
export const valuesIn = (state: ProcessorState, section: string | null): ProcessorState["params"] =>
  section === null ? state.params : { ...state.params, ...state.bySection?.[section] };
