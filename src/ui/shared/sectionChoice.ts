import { create } from "zustand";
import { valuesIn } from "../../core/song/setParams";
import type { Bus, Mic } from "../../core/song/song";
import { useSong } from "./songStore";

/** Section whose values the settings show and change; null: those of the whole song. */
export const useSectionChoice = create<{ section: string | null }>()(() => ({ section: null }));

/** The section that is chosen, when the song has it. */
export function useSection(): string | null {
  const chosen = useSectionChoice((s) => s.section);
  const known = useSong((s) => s.song!.sections.some((x) => x.id === chosen));
  return known ? chosen : null;
}

/** A mic or bus as its settings hold in a section; what differs by section stays known in it. */
export const inSection = <T extends Mic | Bus>(owner: T, section: string | null): T =>
  section === null
    ? owner
    : { ...owner, chain: owner.chain.map((p) => ({ ...p, params: valuesIn(p, section) })) };
