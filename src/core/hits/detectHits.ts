import type { Hit, Piece } from "../song/song";
import type { BandEnergies } from "./bandEnergies";
import { nameCymbals } from "./cymbals";
import { decideFar, decideHits } from "./decideHits";
import { findEvents, type CloseMic, type PieceEvents } from "./events";

export interface Detection {
  /** What happens in the main mic of every drum; what sensitivity decides about. */
  readonly events: readonly PieceEvents[];
  /** Ascending. */
  readonly hits: readonly Hit[];
}

/**
 * Finds the strokes of every drum in its main close mic, and those of cymbals without a mic in the overheads, and tells
 * them from bleed by what all other close mics hear at the same instant.
 * Shape   one entry a piece, with the energies of its audio (bandEnergies); audio of equal sample rate; at most one far
 *         mic, which hears the pieces of `missing`.
 */
export function detectHits(
  mics: readonly CloseMic[],
  energies: readonly BandEnergies[],
  sampleRate: number,
  missing: readonly Piece[] = [],
  progress: (share: number) => void = () => {},
): Detection {
  const events = findEvents(mics, energies, sampleRate, progress);
  const hits = events.flatMap((e, m) =>
    mics[m]!.far ? nameCymbals(decideFar(e), energies[m]!, missing) : decideHits(e),
  );
  return {
    events: events.filter((_, m) => !mics[m]!.far),
    hits: hits.sort((a, b) => a.time - b.time),
  };
}
