import { designKWeighting } from "../measure/kWeighting";
import { designButterworth, filtered } from "../signal/biquad";
import { powerToDb } from "../signal/level";

/** Time from the onset that counts to a stroke's loudness, s. */
const strokeSeconds = 0.2;
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
  const power = (y: Float32Array): number => {
    let sum = 0;
    let n = 0;
    for (const onset of onsets) {
      const from = Math.max(0, Math.round(onset));
      const to = Math.min(y.length, from + Math.round(strokeSeconds * sampleRate));
      for (let i = from; i < to; i++) sum += y[i]! * y[i]!;
      n += Math.max(0, to - from);
    }
    return powerToDb(n > 0 ? sum / n : 0);
  };
  const weighted = filtered(x, designKWeighting(sampleRate));
  const small = filtered(weighted, designButterworth("high", smallSpeakerFrom, 4, sampleRate));
  return { whole: power(weighted), small: power(small) };
}
