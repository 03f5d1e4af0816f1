import { create } from "zustand";
import type { Bus, Mic, ProcessorState } from "../../core/song/song";
import { useSong } from "./songStore";

/** Section whose values the settings show and change; null: those of the whole song. */
export const useSectionChoice = create<{ section: string | null }>()(() => ({ section: null }));

/** The section that is chosen, when the song has it. */
export function useSection(): string | null {
  const chosen = useSectionChoice((s) => s.section);
  const known = useSong((s) => s.song!.sections.some((x) => x.id === chosen));
  return known ? chosen : null;
}

/** Values of a processor as they hold in a section, or in the song. */
export const valuesIn = (state: ProcessorState, section: string | null): ProcessorState["params"] =>
  section === null ? state.params : { ...state.params, ...state.bySection?.[section] };

/** A mic or bus as its settings hold in a section; what differs by section stays known in it. */
export const inSection = <T extends Mic | Bus>(owner: T, section: string | null): T =>
  section === null
    ? owner
    : { ...owner, chain: owner.chain.map((p) => ({ ...p, params: valuesIn(p, section) })) };
