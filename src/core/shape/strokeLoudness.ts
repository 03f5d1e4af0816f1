import { designKWeighting } from "../measure/kWeighting";
import { designButterworth, filtered } from "../signal/biquad";
import { powerToDb } from "../signal/level";

/** Time from the onset that counts to a stroke's loudness, s. */
const strokeSeconds = 0.2;
/** Time in which the filters come to rest before a stroke, s: the lowest of them, two poles at 38 Hz, falls by 60 dB in 40 ms. */
const settleSeconds = 0.1;
/** Below this a small speaker gives nothing: 24 dB per octave (common practice, no source), Hz. */
const smallSpeakerFrom = 150;

/** Loudness of strokes as they are, and as a small speaker gives them. */
export interface StrokeLoudness {
  /** dB, K-weighted; `silenceDb` without strokes. */
  readonly whole: number;
  readonly small: number;
}

/**
 * Mean K-weighted power over the first 200 ms of every stroke. Shape  onsets in frames.
 * Source  weighting: ITU-R BS.1770-5, annex 1. Strokes are shorter than its 400 ms blocks, so that it is no loudness in LUFS; differences are
 *         LU.
 */
export function strokeLoudness(
  x: Float32Array,
  onsets: readonly number[],
  sampleRate: number,
): StrokeLoudness {
  const lead = Math.round(settleSeconds * sampleRate);
  const span = Math.round(strokeSeconds * sampleRate);
  const weighting = designKWeighting(sampleRate);
  const speaker = designButterworth("high", smallSpeakerFrom, 4, sampleRate);
  const sum = { whole: 0, small: 0 };
  let n = 0;
  for (const onset of onsets) {
    const at = Math.max(0, Math.round(onset));
    const from = Math.max(0, at - lead);
    // Only what is heard is filtered, and what its filters still remember.
    const weighted = filtered(x.subarray(from, at + span), weighting);
    const small = filtered(weighted, speaker);
    for (let i = at - from; i < weighted.length; i++) {
      sum.whole += weighted[i]! * weighted[i]!;
      sum.small += small[i]! * small[i]!;
    }
    n += Math.max(0, weighted.length - (at - from));
  }
  const level = (power: number): number => powerToDb(n > 0 ? power / n : 0);
  return { whole: level(sum.whole), small: level(sum.small) };
}
