import type { Tone } from "../facts/facts";
import { newProcessor } from "../song/create";
import type { ProcessorState } from "../song/song";

/** Parallel copies that are made with a chain: what they are for, and what of the chain is fitted to the strokes. */
export const copyKinds = ["crushed", "attack"] as const;
export type CopyKind = (typeof copyKinds)[number];

/** Reduction of a crushed copy, dB (common practice, no source: 12 to 15). */
export const crushedBy = 13;
/** Level at which a copy comes in: heard beside what it is a copy of, and easily ridden up, dB. */
export const copyLevel = -12;
/** Where the middle of a drum ends, Hz, and where it begins where no fundamental is known (common practice, no source). */
const middle = { to: 5000, usual: 220, above: 3 } as const;
/** Below this an attack is no stick but weight, Hz (common practice, no source). */
const attackFrom = 300;

/** Under an id for the time being: they get the bus's own where they are put in. */
const state = (type: string, params: ProcessorState["params"]): ProcessorState =>
  newProcessor("copy", type, true, params);

/**
 * The chain of a parallel copy before its fit: a crushed middle without lows and highs, or attacks alone.
 * `fitted`: the processor of it that is fitted; for "crushed" its threshold, for "attack" its output.
 */
export function copyChain(
  kind: CopyKind,
  tone: Tone | undefined,
): { chain: ProcessorState[]; fitted: ProcessorState } {
  if (kind === "attack") {
    const fitted = state("transient", { attack: 9, attackTime: 0.012, sustain: -24, sustainTime: 0.2 });
    return { chain: [state("eq", { highPassSlope: "12", highPassFrequency: attackFrom }), fitted], fitted };
  }
  const from = Math.round(Math.min(500, tone ? middle.above * tone.fundamental : middle.usual));
  const fitted = state("compressor", { threshold: -40, ratio: 8, attack: 0.0005, release: 0.12, knee: 6 });
  const band = {
    highPassSlope: "12",
    highPassFrequency: from,
    lowPassSlope: "12",
    lowPassFrequency: middle.to,
  };
  return { chain: [state("eq", band), fitted], fitted };
}
