import { median } from "../signal/level";
import { speedOfSound } from "../signal/sound";
import type { Mic, Song } from "../song/song";

/** How far the room mics stand from the kit, as their delays tell. */
export interface KitDistance {
  /** m. */
  readonly metres: number;
  readonly mics: readonly Mic[];
}

/**
 * Distance of the room mics: the middle of how much later the kit's strokes arrive there than in the drums' own mics, by the
 * speed of sound. Null without room mics that were measured.
 */
export function roomDistance(song: Song): KitDistance | null {
  const mics = song.mics.filter((m) => m.piece === "room" && !m.silent && m.lateBy > 0);
  if (mics.length === 0) return null;
  return { metres: (median(mics.map((m) => m.lateBy)) / song.sampleRate) * speedOfSound, mics };
}
