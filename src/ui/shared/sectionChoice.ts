import { create } from "zustand";

/** Section whose values the settings show and change; null: those of the whole song. */
export const useSectionChoice = create<{ section: string | null }>()(() => ({ section: null }));
