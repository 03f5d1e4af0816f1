import type { Piece } from "../song/song";

/** Bands of a drum's body and of its attack; a stroke shows in both, a beating tail only in the first. */
export const ownBands = (piece: Piece): { body: readonly number[]; attack: readonly number[] } => {
  if (piece === "hat") return { body: [4, 5], attack: [4, 5] };
  if (piece === "ride" || piece === "crash") return { body: [3, 4], attack: [4, 5] };
  if (piece === "snare") return { body: [1, 2], attack: [3, 4] };
  return { body: [0, 1, 2], attack: [3, 4] };
};

/** Cymbals and hats: no body of their own under what their attack has. */
export const isCymbal = (piece: Piece): boolean => piece === "hat" || piece === "ride" || piece === "crash";
