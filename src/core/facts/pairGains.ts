import type { Mic, Piece } from "../song/song";
import type { Facts } from "./facts";

/** Drums that stand in the middle of a kit: both sides of a pair are to hear them alike (common practice, no source). */
const middle: readonly Piece[] = ["snare", "kick"];
/** Sides further apart than this are no pair that was set up as one, dB. */
const mostApart = 12;

/**
 * Gains that make the two sides of a pair hear the snare and the kick alike, by mic id, dB: half up, half down. Only where two mics
 * are the left and the right of one piece and both were struck in; a stereo file keeps its own picture.
 */
export function pairGains(
  mics: readonly Pick<Mic, "id" | "piece" | "place" | "silent">[],
  { heardStrokes }: Pick<Facts, "heardStrokes">,
): Record<string, number> {
  const gains: Record<string, number> = {};
  const sideOf = (piece: Piece, place: "left" | "right") =>
    mics.filter((m) => m.piece === piece && m.place === place && !m.silent);
  for (const piece of ["overhead", "room"] as const) {
    const [left, right] = [sideOf(piece, "left"), sideOf(piece, "right")];
    if (left.length !== 1 || right.length !== 1) continue;
    const [l, r] = [left[0]!, right[0]!];
    const apart = middle.flatMap((p) => {
      const [a, b] = [heardStrokes[l.id]?.heard[p], heardStrokes[r.id]?.heard[p]];
      return a === undefined || b === undefined ? [] : [a - b];
    });
    if (apart.length === 0) continue;
    const mean = apart.reduce((sum, v) => sum + v, 0) / apart.length;
    if (Math.abs(mean) > mostApart) continue;
    gains[l.id] = -mean / 2;
    gains[r.id] = mean / 2;
  }
  return gains;
}
