import { cutSnippets, spreadOver } from "../hits/snippets";
import { gainToDb, median, peakOf } from "../signal/level";
import type { ProcessorState } from "../song/song";
import { strokeEffect } from "./hitReductions";
import { runInParts } from "./runInParts";
import type { Samples } from "../signal/samples";

/** How much of a stroke is cut out, s before and behind its onset. */
const [lead, span] = [0.05, 0.35];

/** Strokes one after another, cut out of the recording. */
export interface Reel {
  readonly audio: Float32Array;
  /** Onsets, frames. */
  readonly onsets: readonly number[];
  readonly sampleRate: number;
}

export function reelOf(x: Samples, times: readonly number[], sampleRate: number, most: number): Reel {
  const cut = cutSnippets(x, spreadOver(times, most), -lead, span, sampleRate);
  const length = cut[0]?.length ?? 0;
  const audio = new Float32Array(cut.length * length);
  cut.forEach((s, i) => audio.set(s, i * length));
  return { audio, onsets: cut.map((_, i) => i * length + Math.round(lead * sampleRate)), sampleRate };
}

/** Some strokes of a reel, spread over it. */
export function shorter({ audio, onsets, sampleRate }: Reel, most: number): Reel {
  if (onsets.length <= most) return { audio, onsets, sampleRate };
  return reelOf(
    audio,
    onsets.map((o) => o / sampleRate),
    sampleRate,
    most,
  );
}

/** The strokes behind a processor. */
export const through = (state: ProcessorState, { audio, onsets, sampleRate }: Reel): Reel => ({
  audio: runInParts(state, [audio], sampleRate, Float64Array.from(onsets)).after,
  onsets,
  sampleRate,
});
export const strokesOf = ({ audio, onsets, sampleRate }: Reel, from: number, to: number): Float32Array[] =>
  cutSnippets(
    audio,
    onsets.map((o) => o / sampleRate),
    from,
    to,
    sampleRate,
  );
export const effectOf = (state: ProcessorState, { audio, onsets, sampleRate }: Reel) =>
  strokeEffect(state, [audio], onsets, Float64Array.from(onsets), sampleRate);

/** Peak of half of the strokes, dBFS. */
export const levelOf = (reel: Reel): number =>
  median(strokesOf(reel, -0.001, 0.014).map((s) => gainToDb(peakOf(s))));
