import { designKWeighting } from "../measure/kWeighting";
import { Cascade, designButterworth } from "../signal/biquad";
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
  const weighting = designKWeighting(sampleRate);
  const small = designButterworth("high", smallSpeakerFrom, 4, sampleRate);
  const power = (sections: typeof weighting): number => {
    const filter = new Cascade(sections.length);
    filter.set(sections);
    const y = new Float32Array(x.length);
    filter.process(x, y, x.length);
    let sum = 0;
    let n = 0;
    for (const onset of onsets) {
      const from = Math.max(0, Math.round(onset));
      const to = Math.min(x.length, from + Math.round(strokeSeconds * sampleRate));
      for (let i = from; i < to; i++) sum += y[i]! * y[i]!;
      n += Math.max(0, to - from);
    }
    return powerToDb(n > 0 ? sum / n : 0);
  };
  return { whole: power(weighting), small: power([...weighting, ...small]) };
}
