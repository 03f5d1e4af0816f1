import type { Mic } from "../../core/song/song";
import { useSong } from "./songStore";

/** The mic on the bench, or undefined. */
export const useMic = (): Mic | undefined => useSong((s) => s.song?.mics.find((m) => m.id === s.mic));
