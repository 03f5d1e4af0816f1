import { isShell, type Piece } from "../song/song";
import type { Balance } from "./balance";

/**
 * Balance of the strokes of such drums in their main mics, dB against the whole: the middle of the middles of three worlds of simulated
 * kits (own seeds 31-33, recorded 31-33, shared 5 and 21-23), which lie up to 20 dB apart at the stick. Null: not known.
 */
export function usualBalance(piece: Piece): Balance | null {
  if (piece === "kick") return { weight: -1.7, box: -19.7, stick: -26.5, air: -30.5 };
  if (piece === "snare") return { weight: -3.1, box: -7.9, stick: -14.3, air: -17.2 };
  return isShell(piece) ? { weight: -1.6, box: -13.2, stick: -23.4, air: -35 } : null;
}
