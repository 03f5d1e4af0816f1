import type { Facts } from "../facts/facts";
import type { RingDecay } from "../facts/ringDecay";
import type { ParamValue } from "../params";
import type { Piece } from "../song/song";

type Tone = Facts["tone"][string];

/** A ring that dies within this time is the drum's own sound, s (common practice, no source). */
const longRing = 0.35;

/** A ring that stands out by more than 9 dB over its surroundings is heard as a whistle (common practice, no source). */
const whistles = (piece: Piece, tone: Tone | undefined): boolean =>
  tone !== undefined && tone.ringDb > 9 && piece !== "kick";

/** True for a ring that lasts, and that a ring tamer shortens. */
export const isTamed = (piece: Piece, tone: Tone | undefined, ring: RingDecay): boolean =>
  whistles(piece, tone) && ring.found > longRing && ring.tamed < 0.7 * ring.found;

/** What the EQ cuts of a ring that is not tamed. */
export const ringCut = (
  piece: Piece,
  tone: Tone | undefined,
  ring: RingDecay | undefined,
): Record<string, ParamValue> =>
  tone && whistles(piece, tone) && !(ring && isTamed(piece, tone, ring))
    ? { bell3Frequency: tone.ring, bell3Gain: -7, bell3Q: 8 }
    : {};
