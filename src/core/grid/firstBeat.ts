import type { Hit } from "../song/song";

/** How much a stroke on a beat of the bar speaks for that bar: kicks want 1 (and 3), snares 2 and 4, crashes 1. */
function vote(piece: string, beat: (at: number) => boolean, beatsPerBar: number): number {
  const odd = beat(0) || (beatsPerBar === 4 && beat(2));
  const even = beat(1) || (beatsPerBar === 4 && beat(3));
  if (piece === "kick") return beat(0) ? 2 : odd ? 0.9 : even ? -0.5 : -0.2;
  // In half time the snare lies on 3.
  if (piece === "snare") return even ? 1.2 : beat(0) ? -1 : odd ? -0.2 : -0.6;
  if (piece === "crash") return beat(0) ? 3 : 0;
  if (piece === "hat" || piece === "ride") return odd || even ? 0.25 : 0;
  return 0;
}

/**
 * The first beat that is played: which part of the beat is beat one of a bar, then the first beat at or after the first
 * stroke; and how many beats of a pick-up lie before the first bar line.
 * Shape   `beatOf` gives the place of an instant in beats from an arbitrary beat on, with `parts` possible places a beat.
 */
export function findFirstBeat(
  hits: readonly Hit[],
  beatOf: (seconds: number) => number,
  parts: number,
  beatsPerBar: number,
): { first: number; pickUp: number } {
  const mod = (x: number, m: number) => ((x % m) + m) % m;
  const played = hits.reduce((least, h) => Math.min(least, beatOf(h.time)), Infinity);
  let best = { start: 0, score: -Infinity };
  for (let s = 0; s < parts * beatsPerBar; s++) {
    const start = s / parts;
    let score = 0;
    for (const h of hits) {
      const inBar = mod(beatOf(h.time) - start, beatsPerBar);
      const near = (at: number) =>
        Math.abs(mod(inBar - at + beatsPerBar / 2, beatsPerBar) - beatsPerBar / 2) < 0.12;
      score += (h.ghost ? 0.1 : 1) * vote(h.piece, near, beatsPerBar);
    }
    // Where nothing speaks against it, the music begins with its first bar, or with as short a pick-up as may be.
    const before = mod(start - played + 0.3, beatsPerBar);
    if (mod(before, 1) < 0.6) score += 0.04 * hits.length * (1 - Math.floor(before) / beatsPerBar);
    if (score > best.score + 1e-9) best = { start, score };
  }
  // The first beat that a stroke lies on or after, within a third of a beat.
  const beats = Math.ceil(played - 0.3 - best.start);
  // Counted in whole beats: thirds of a beat that are added and taken off leave a rest.
  return { first: best.start + beats, pickUp: mod(-beats, beatsPerBar) };
}
