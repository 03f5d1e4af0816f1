/** What a loop is told apart into by its strokes; all else is its rest. */
export const loopDrums = ["kick", "snare", "hat"] as const;
export type LoopDrum = (typeof loopDrums)[number];
