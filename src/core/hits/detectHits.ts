import { withoutEchoes } from "./echoes";
import type { Hit, Piece } from "../song/song";
import type { BandEnergies } from "./bandEnergies";
import { decideHits } from "./decideHits";
import { findEvents, type HeardMic, type HitRunner, type PieceEvents } from "./events";

export interface Detection {
  /** What happens in the main mic of every drum; what sensitivity decides about. */
  readonly events: readonly PieceEvents[];
  /** Ascending. */
  readonly hits: readonly Hit[];
}

/**
 * Finds the strokes of every drum in its main close mic, and those of cymbals without a mic in the overheads, and tells
 * them from bleed by what all other close mics hear at the same instant.
 * Shape   one entry a mic, with the energies of its audio (bandEnergies); audio of equal sample rate; the first far mic is where
 *         the pieces of `missing` are looked for.
 */
export async function detectHits(
  mics: readonly HeardMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
  missing: readonly Piece[] = [],
  progress: (share: number) => void = () => {},
  run?: HitRunner,
): Promise<Detection> {
  const mains = mics.filter((m) => m.role === "main").length;
  const found = await findEvents(mics, energies, sampleRate, missing, progress, run);
  const hits = found.flatMap((e, n) => decideHits(e, 0, n < mains));
  return {
    events: found.slice(0, mains),
    hits: withoutEchoes(hits).sort((a, b) => a.time - b.time),
  };
}
