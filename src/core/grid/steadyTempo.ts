import type { Tempo } from "../song/song";

/** What a tempo has besides its beats, where nothing is known of it. */
export const plainTempo = { beatsPerBar: 4, compound: false, pickUp: 0, meters: [], follows: false } as const;

/** Beats of a steady pulse from a first one up to the end of the song, s; at least two. */
export function steadyBeats(firstBeat: number, bpm: number, seconds: number): number[] {
  const beat = 60 / bpm;
  const count = Math.max(2, Math.ceil((seconds - firstBeat) / beat - 1e-9));
  return Array.from({ length: count }, (_, i) => firstBeat + i * beat);
}

/** The same meter with a constant tempo in beats per minute from a first beat on; beats up to the end of the song in s. */
export const steadyTempo = (
  tempo: Tempo,
  bpm: number,
  seconds: number,
  firstBeat = tempo.firstBeat,
): Tempo => ({
  ...tempo,
  bpm,
  firstBeat,
  follows: false,
  beats: steadyBeats(firstBeat, bpm, seconds),
});

/** The same beats moved as a whole, s. */
export const movedTempo = (tempo: Tempo, by: number): Tempo => ({
  ...tempo,
  firstBeat: tempo.firstBeat + by,
  beats: tempo.beats.map((b) => b + by),
});

/**
 * Tempo that somebody tapped: from the median of the intervals, so that one missed tap changes nothing.
 * Shape   instants in s, ascending; null for fewer than four. Within 30 to 300 bpm.
 */
export function tappedBpm(taps: readonly number[]): number | null {
  if (taps.length < 4) return null;
  const gaps = taps
    .slice(1)
    .map((t, i) => t - taps[i]!)
    .sort((a, b) => a - b);
  const middle = gaps[gaps.length >> 1]!;
  const near = gaps.filter((g) => Math.abs(g / middle - 1) < 0.25);
  const bpm = 60 / (near.reduce((sum, g) => sum + g, 0) / near.length);
  return bpm >= 30 && bpm <= 300 ? bpm : null;
}
