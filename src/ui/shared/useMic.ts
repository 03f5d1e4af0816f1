import { useMemo } from "react";
import type { Mic } from "../../core/song/song";
import { inSection, useSection } from "./sectionChoice";
import { useSong } from "./songStore";

/** The mic on the bench, or undefined. */
export const useMic = (): Mic | undefined => useSong((s) => s.song?.mics.find((m) => m.id === s.mic));

/** The mic on the bench as it is set in the chosen section. */
export function useMicHere(): Mic | undefined {
  const mic = useMic();
  const section = useSection();
  return useMemo(() => mic && inSection(mic, section), [mic, section]);
}
