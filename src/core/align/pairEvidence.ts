import { pairSpectra, type PairSpectra } from "./bands";
import { averageStroke, lowEndCurve, type LowEndCurve } from "./evidence";
import { cutSnippets } from "../hits/snippets";
import { peakOf } from "../signal/level";

/** What shows whether two mics of one drum agree. */
export interface PairEvidence {
  /** Strokes it was made over. */
  strokes: number;
  /** Time of every frame of the means against the onset, ms. */
  timeMs: number[];
  /** Average stroke of the main mic, its largest value 1. */
  main: Float32Array;
  /** Average stroke of the second mic as recorded, its largest value 1, with the deviation over the strokes. */
  second: Float32Array;
  deviation: Float32Array;
  curve: LowEndCurve;
  /** What tells the sum by band under any setting. */
  spectra: PairSpectra;
}

const before = 0.003;
const after = 0.012;
/** Reach of the low-end curve around the recorded place, frames. */
export const curveReach = 300;

/**
 * Average stroke of both mics and the low end of their sum against the delay of the second.
 * Shape   main and second begin at the same instant; times are onsets in the main mic, s.
 */
export function pairEvidence(
  main: Float32Array,
  second: Float32Array,
  times: readonly number[],
  sampleRate: number,
): PairEvidence {
  const overlay = times.slice(0, 64);
  const own = averageStroke(cutSnippets(main, overlay, -before, after, sampleRate));
  const other = averageStroke(cutSnippets(second, overlay, -before, after, sampleRate));
  const scale = (x: Float32Array, by: number) => x.map((v) => v / (by || 1));
  const ownPeak = peakOf(own.mean);
  const otherPeak = peakOf(other.mean);
  const judged = times.slice(0, 20);
  const long = (x: Float32Array) => cutSnippets(x, judged, -0.012, 0.11, sampleRate);
  return {
    strokes: overlay.length,
    timeMs: Array.from(own.mean, (_, i) => 1000 * (i / sampleRate - before)),
    main: scale(own.mean, ownPeak),
    second: scale(other.mean, otherPeak),
    deviation: scale(other.deviation, otherPeak),
    spectra: pairSpectra(main, second, times.slice(0, 40), sampleRate),
    curve: lowEndCurve(long(main), long(second), curveReach, 6, sampleRate),
  };
}
