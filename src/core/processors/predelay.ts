import { choice } from "../params";

const beatShares = ["1/16 beat", "1/8 beat", "1/6 beat", "1/4 beat", "1/3 beat", "1/2 beat"] as const;

/** Longest pre-delay that a beat may give, s: half a beat at 60 a minute. */
export const longestPredelay = 0.5;

/** Parameter of whatever waits before it answers. */
export const predelayParams = {
  predelayBy: choice(
    "Pre-delay by",
    ["seconds", ...beatShares],
    "As many seconds as are set, or a share of a beat of the song; without a tempo the seconds count.",
  ),
} as const;

interface Predelay {
  readonly predelay: number;
  readonly predelayBy: "seconds" | (typeof beatShares)[number];
}

/**
 * Seconds for which a space waits: a share of the mean beat, so that it stands still while the tempo wanders.
 * Shape  beats ascending, frames. Range  0 to `longestPredelay`.
 */
export function predelaySeconds(v: Predelay, beats: Float64Array, sampleRate: number): number {
  const last = beats.length - 1;
  if (v.predelayBy === "seconds" || last < 1) return v.predelay;
  const beat = (beats[last]! - beats[0]!) / last;
  const share = 1 / Number(v.predelayBy.slice(2, v.predelayBy.indexOf(" ")));
  return Math.min(longestPredelay, Math.max(0, (share * beat) / sampleRate));
}
