import { findLoopStrokes, type LoopStrokes } from "./findLoopStrokes";
import { mainMic, type Mic, type Song } from "../song/song";
import { loopDrums, type LoopDrum } from "./loopDrums";
import { takeApart, type LoopParts, type StrokeTimes } from "./takeApart";

/** A loop, whole, and its strokes where they are known already. */
export interface ApartAsk {
  readonly channels: readonly Float32Array[];
  readonly sampleRate: number;
  /** Strokes by drum as they were corrected by hand, s; null: those that are found. */
  readonly known: StrokeTimes | null;
}
export interface LoopApart {
  readonly found: LoopStrokes;
  readonly parts: LoopParts;
}

/**
 * Strokes of a loop as the song has them by now: of drums that have no mic of their own, so that they were found in the loop; null where the
 * song has none.
 */
export function knownStrokes(song: Song, loop: Mic): StrokeTimes | null {
  const start = loop.start / song.sampleRate;
  const end = start + loop.frames / song.sampleRate;
  const timesOf = (drum: LoopDrum): number[] =>
    mainMic(song.mics, drum)
      ? []
      : song.hits
          .filter((h) => h.piece === drum && h.time >= start && h.time < end)
          .map((h) => h.time - start);
  const times = { kick: timesOf("kick"), snare: timesOf("snare"), hat: timesOf("hat") };
  return loopDrums.some((drum) => times[drum].length > 0) ? times : null;
}

/**
 * A loop taken apart by its strokes.
 * Errors  RangeError in words for a loop in which no stroke of any drum is found.
 */
export function loopApart({ channels, sampleRate, known }: ApartAsk): LoopApart {
  const found = findLoopStrokes(channels, sampleRate);
  if (found.strokes.length === 0 && !known)
    throw new RangeError("no stroke of kick, snare or hat was found in it; it stays whole");
  const timesOf = (drum: LoopDrum) => found.strokes.filter((s) => s.drum === drum).map((s) => s.time);
  const times = known ?? { kick: timesOf("kick"), snare: timesOf("snare"), hat: timesOf("hat") };
  return { found, parts: takeApart(channels, sampleRate, times, found.strange) };
}
