import type { Edit } from "../song/song";
import type { Move } from "./moves";

/** Distance of a cut before the first arrival of a stroke, s. */
const lead = 0.0025;
/** How long a stroke stays whole behind its start, s; where strokes are dense, this share of their distance. */
const protect = 0.03;
const protectShare = 0.4;
/** Shortest and usual crossfade, s. */
const shortestFade = 0.0008;
const usualFade = 0.008;
/** A gap or overlap that is longer is spread over several joints in the sustain, s. */
const longestStep = 0.01;
/** Room that each of several joints wants, s. */
const roomEach = 0.03;

/** Between two groups of strokes: where the cut may lie, and from which shift to which. Frames of the tightened song. */
export interface Seam {
  readonly from: number;
  readonly to: number;
  readonly before: number;
  readonly after: number;
}

/**
 * Where moves meet. A cut lies behind the attack of the last stroke before it, as it sounds on both sides, and before
 * the earliest arrival of the next in any mic; so no attack is cut, lost or heard twice.
 * Shape   `earliest`: s by which a stroke may reach another mic before the main mic of its drum. Strokes too near to
 *         each other for a cut go along with the ones before.
 */
export function seamsOf(moves: readonly Move[], sampleRate: number, earliest = 0): Seam[] {
  const seams: Seam[] = [];
  let shift = 0;
  let lastEnd = -Infinity;
  let free = 0; // frame of the song from which on nothing is cut yet
  for (const { group, shift: wanted } of moves) {
    const after = Math.round(wanted * sampleRate);
    if (after !== shift) {
      const gap = group.from - lastEnd;
      const whole = Number.isFinite(gap) ? Math.min(protect, protectShare * gap) : 0;
      const start = Number.isFinite(lastEnd)
        ? Math.round((lastEnd + whole) * sampleRate) + Math.max(shift, after)
        : 0;
      const to = Math.round((group.from - lead - earliest) * sampleRate) + Math.min(shift, after);
      const from = Math.max(start, free, 0);
      if (to - from >= Math.round(shortestFade * sampleRate)) {
        seams.push({ from, to, before: shift, after });
        free = to;
        shift = after;
      }
    }
    lastEnd = Math.max(group.to, lastEnd);
  }
  return seams;
}

/** Parts of a seam, each with its own step, when the step is long and there is room for more than one joint. */
export function stepsOf(seam: Seam, sampleRate: number): Seam[] {
  const { from, to, before, after } = seam;
  const wanted = Math.ceil(Math.abs(after - before) / (longestStep * sampleRate));
  const count = Math.max(1, Math.min(wanted, Math.floor((to - from) / (roomEach * sampleRate))));
  return Array.from({ length: count }, (_, i) => ({
    from: Math.round(from + ((to - from) * i) / count),
    to: Math.round(from + ((to - from) * (i + 1)) / count),
    before: Math.round(before + ((after - before) * i) / count),
    after: Math.round(before + ((after - before) * (i + 1)) / count),
  }));
}

/** Joints without a look at the material: as late as possible, so that as much as possible of each tail stays. */
export const plainEdits = (seams: readonly Seam[], sampleRate: number): Edit[] =>
  seams.flatMap((seam) =>
    stepsOf(seam, sampleRate).map(({ from, to, after }): Edit => ({
      at: to,
      shift: after,
      fade: Math.min(Math.round(usualFade * sampleRate), to - from),
      likeness: 0.5,
      jumpDb: null,
    })),
  );
