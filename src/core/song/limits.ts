import { number } from "../params";

/** What a song may hold. The interface says these, operations and files are checked against them. */
export const limits = {
  mics: 64,
  buses: 32,
  /** Processors in one chain, besides those every mic has. */
  processors: 16,
  /** Buses one after another between a mic and the end. */
  depth: 8,
  sends: 32,
  sections: 500,
  hits: 200_000,
  edits: 100_000,
  beats: 100_000,
  /** Least distance of two beats, s: nearer ones are no music, and the grid between them would have no end. */
  shortestBeat: 0.02,
} as const;

/** Faders and sends. */
export const levelParam = number("Level", "dB", -100, 24, 0, "Level in the mix; 0 dB leaves it as it is.");
export const widthParam = number(
  "Width",
  "%",
  0,
  200,
  100,
  "How far left and right lie apart: 0 is mono, 100 leaves them.",
);
/** What Tighten is set to, as stored. */
export const tightenParams = {
  strength: number("Strength", "", 0, 1, 0, "Share of the way to the grid."),
  swing: number(
    "Swing",
    "",
    0.5,
    0.75,
    0.5,
    "Where the second of two lines lies: 0.5 straight, 2/3 a triplet's.",
  ),
  window: number("Leave within", "s", 0, 0.1, 0.003, "Strokes nearer to the grid than this stay."),
  largest: number("Largest move", "s", 0, 0.2, 0.04, "No stroke is moved further."),
} as const;
