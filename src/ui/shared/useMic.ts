import type { Mic } from "../../core/song/song";
import { useSong } from "./songStore";

/** The mic on the bench, or undefined. */
export const useMic = (): Mic | undefined => useSong((s) => s.song?.mics.find((m) => m.id === s.mic));

/** Strokes of a mic's drum as they arrive in it, frames of the recording. */
export function strokesIn(
  hits: readonly { piece: string; time: number; ghost: boolean }[],
  mic: Mic,
  sampleRate: number,
): { mains: number[]; all: number[] } {
  const own = hits.filter((h) => h.piece === mic.piece);
  const frame = (h: { time: number }) => h.time * sampleRate + mic.lateBy;
  return { mains: own.filter((h) => !h.ghost).map(frame), all: own.map(frame).sort((a, b) => a - b) };
}
