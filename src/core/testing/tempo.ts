import type { Tempo } from "../song/song";

/** A steady tempo in 4/4 from the first frame on. For tests only. */
export const steadyTempo = (bpm: number, beats: number): Tempo => ({
  bpm,
  firstBeat: 0,
  beatsPerBar: 4,
  compound: false,
  pickUp: 0,
  meters: [],
  follows: false,
  beats: Array.from({ length: beats }, (_, i) => (60 * i) / bpm),
});
