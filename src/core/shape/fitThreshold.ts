import { resolveParams, type AnyValues, type NumberParam } from "../params";
import { plainContext, type ProcessorType } from "../processor";
import { cutSnippets, spreadOver } from "../hits/snippets";
import { processorType } from "../processors";
import { compressor } from "../processors/compressor";
import type { ProcessorState } from "../song/song";
import { median } from "../signal/level";

const block = 64;

/** Largest gain reduction that a processor gives every stroke, dB. Strokes begin from rest. */
function reductions(
  type: ProcessorType,
  snippets: readonly Float32Array[],
  values: AnyValues,
  sampleRate: number,
): number[] {
  const processor = type.create();
  processor.prepare({ sampleRate, channels: 1, maxFrames: block });
  processor.set(resolveParams(type.params, values));
  const out = Array.from({ length: type.widens ? 2 : 1 }, () => new Float32Array(block));
  const context = plainContext();
  return snippets.map((x) => {
    processor.reset();
    let most = 0;
    for (let at = 0; at + block <= x.length; at += block) {
      processor.process([x.subarray(at, at + block)], out, block, context);
      most = Math.max(most, processor.reductionDb!);
    }
    return most;
  });
}

export interface FittedThreshold {
  /** dBFS, to half a dB. */
  threshold: number;
  /** Median over the strokes, dB, as measured at this threshold. */
  reductionDb: number;
}

/**
 * The threshold at which a processor gives the strokes a wished reduction in the median, found by halving: the
 * reduction falls as the threshold rises. Shape: snippets of strokes as they come into it; `values` without threshold; wished in
 * dB; `level`: the parameter that is the threshold.
 */
export function fitThreshold(
  snippets: readonly Float32Array[],
  values: AnyValues,
  wishedDb: number,
  sampleRate: number,
  type: ProcessorType = compressor,
  level = "threshold",
): FittedThreshold {
  const at = (threshold: number) =>
    median(reductions(type, snippets, { ...values, [level]: threshold }, sampleRate));
  let { min: low, max: high } = type.params[level] as NumberParam;
  while (high - low > 0.5) {
    const middle = (low + high) / 2;
    if (at(middle) > wishedDb) low = middle;
    else high = middle;
  }
  const threshold = Math.round(2 * high) / 2;
  return { threshold, reductionDb: at(threshold) };
}

/** Strokes by which a level is fitted, and what of each is read, s from its onset. */
const fittedStrokes = 40;
const read = { from: -0.005, to: 0.15 } as const;

/**
 * The level at which a processor gives the strokes in what comes into it a wished reduction in the median. `level`: its parameter that is
 * sought. Shape  x one channel; onsets frames of it; wished in dB.
 */
export function thresholdOver(
  x: Float32Array,
  onsets: readonly number[],
  state: ProcessorState,
  wishedDb: number,
  sampleRate: number,
  level = "threshold",
): FittedThreshold {
  const times = onsets.map((f) => f / sampleRate);
  const strokes = cutSnippets(x, spreadOver(times, fittedStrokes), read.from, read.to, sampleRate);
  return fitThreshold(strokes, state.params, wishedDb, sampleRate, processorType(state.type), level);
}
