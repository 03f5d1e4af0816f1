import type { Tempo, TightenSettings } from "../song/song";

/** Parts of a beat per grid line. */
const partsOf: Record<TightenSettings["grid"], number> = { "1/4": 1, "1/8": 2, "1/16": 4, "1/8T": 3 };
export const gridParts = (grid: TightenSettings["grid"]): number => partsOf[grid];

/** The same first beat and meter with a constant tempo in beats per minute; beats up to the end of the song in s. */
export function steadyTempo(tempo: Tempo, bpm: number, seconds: number): Tempo {
  const beat = 60 / bpm;
  const count = Math.max(2, Math.floor((seconds - tempo.firstBeat) / beat) + 1);
  return { ...tempo, bpm, beats: Array.from({ length: count }, (_, i) => tempo.firstBeat + i * beat) };
}
