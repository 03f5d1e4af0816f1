import { heardDrums } from "../../core/shape/heardDrums";
import { isMic, type Owner } from "../../core/song/graph";
import type { Mic, Song } from "../../core/song/song";
import { useSong } from "./songStore";

/** The mic on the bench, or undefined. */
export const useMic = (): Mic | undefined => useSong((s) => s.song?.mics.find((m) => m.id === s.mic));

/** Strokes by which a mic or bus is judged as they arrive in it, frames of the recording. */
export function strokesIn(
  song: Pick<Song, "mics" | "buses" | "hits" | "sampleRate">,
  owner: Owner,
): { mains: number[]; all: number[] } {
  const drums = heardDrums(song, owner);
  const late = isMic(owner) ? owner.lateBy : 0;
  const struck = song.hits.filter((h) => drums.includes(h.piece)).sort((a, b) => a.time - b.time);
  const frame = (h: { time: number }) => h.time * song.sampleRate + late;
  return { mains: struck.filter((h) => !h.ghost).map(frame), all: struck.map(frame) };
}
