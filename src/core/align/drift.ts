import { median } from "../signal/level";
import { estimateDelay, type DelayRange } from "./delays";
import type { Samples } from "../signal/samples";

export interface Drift {
  /** Millionths by which the second recorder's file grows longer; negative: shorter. */
  readonly ppm: number;
  /** Frames by which the delay grows from the first to the last stroke. */
  readonly grows: number;
  /** Delay at the song's first frame, frames. */
  readonly delayAtStart: number;
}

/** Strokes of one estimate, and groups of them from which a line can be told. */
const strokesEach = 4;
const fewestGroups = 4;
const mostGroups = 12;
/** What moves less than this over the song is no drift but the spread of the estimates, frames. */
const leastGrowth = 6;
/** Two crystals differ by less than this, ppm (common practice; good ones by 20). */
const mostPpm = 200;

/**
 * Whether the delay of one mic against another grows over the song, as it does between two recorders whose clocks run
 * apart. Delays of groups of neighbouring strokes are fitted by a line that a few wrong ones do not move.
 * Shape   onsets in frames of `main`, ascending. Null: no drift, or too few strokes to tell.
 * Source  median of pairwise slopes: Theil 1950, Sen, J. Am. Stat. Assoc. 63, 1968.
 */
export function measureDrift(
  main: Samples,
  second: Samples,
  onsets: readonly number[],
  range: DelayRange,
  sampleRate: number,
): Drift | null {
  const groups = Math.min(mostGroups, Math.floor(onsets.length / strokesEach));
  if (groups < fewestGroups) return null;
  const points: { at: number; delay: number }[] = [];
  for (let g = 0; g < groups; g++) {
    const from = Math.floor((g * onsets.length) / groups);
    const group = onsets
      .slice(from, Math.floor(((g + 1) * onsets.length) / groups))
      .slice(0, 2 * strokesEach);
    const found = estimateDelay(main, second, group, range, sampleRate);
    if (found && found.confidence > 0.1) points.push({ at: median(group), delay: found.delay });
  }
  if (points.length < fewestGroups) return null;
  const slopes = points.flatMap((a, i) =>
    points.slice(i + 1).map((b) => (b.delay - a.delay) / (b.at - a.at)),
  );
  const slope = median(slopes);
  const delayAtStart = median(points.map((p) => p.delay - slope * p.at));
  const off = median(points.map((p) => Math.abs(p.delay - delayAtStart - slope * p.at)));
  const flat = median(points.map((p) => p.delay));
  const offFlat = median(points.map((p) => Math.abs(p.delay - flat)));
  const grows = slope * (onsets[onsets.length - 1]! - onsets[0]!);
  // A line must explain the delays clearly better than a constant does.
  if (Math.abs(grows) < leastGrowth || off > 0.4 * offFlat || off > 0.15 * Math.abs(grows)) return null;
  return Math.abs(slope) * 1e6 > mostPpm ? null : { ppm: slope * 1e6, grows, delayAtStart };
}
