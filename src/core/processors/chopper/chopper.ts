import { choice, number, type NumberParam, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { HitCursor } from "../../signal/hitCursor";

/** Steps that a pattern has at most. */
const mostSteps = 16;
type Steps = Readonly<Record<`step${number}`, NumberParam>>;
const steps: Steps = Object.fromEntries(
  Array.from({ length: mostSteps }, (_, i) => [
    `step${i + 1}`,
    number(
      `Step ${i + 1}`,
      "%",
      0,
      100,
      i % 2 === 0 ? 100 : 20,
      "How much of the sound passes in this step.",
    ),
  ]),
);

export const chopperParams = {
  perBeat: choice("Steps a beat", ["1", "2", "3", "4", "6", "8"], "Three and six are triplets."),
  steps: number("Steps", "", 1, mostSteps, 4, "After so many the pattern begins anew."),
  curve: choice("Curve", ["flat", "falling", "rising"], "How each step goes to its end."),
  swing: number("Swing", "%", 0, 75, 0, "Every second step comes later by this share of a step."),
  smooth: number("Smooth", "s", 0.0005, 0.05, 0.003, "Time of an edge to 63 %.", "log"),
  depth: number("Depth", "%", 0, 100, 100, "How much the pattern counts."),
  movement: number("Movement", "%", 0, 100, 0, "Depth of a slow swell over several beats."),
  movementBeats: number("Beats of the movement", "", 2, 64, 16, "From one height of the swell to the next."),
  ...steps,
} as const satisfies ParamTable;
export type ChopperValues = ParamValues<typeof chopperParams> & Readonly<Record<`step${number}`, number>>;

/** What the values of a chopper mean to its loop: shares 0..1, steps as numbers. */
interface Pattern {
  readonly perBeat: number;
  readonly steps: number;
  readonly curve: ChopperValues["curve"];
  /** End of the first step of a pair, in steps. */
  readonly boundary: number;
  readonly depth: number;
  readonly movement: number;
  readonly movementBeats: number;
  readonly levels: readonly number[];
}
function designPattern(v: ChopperValues): Pattern {
  return {
    perBeat: Number(v.perBeat),
    steps: Math.round(v.steps),
    curve: v.curve,
    boundary: 1 + v.swing / 100,
    depth: v.depth / 100,
    movement: v.movement / 100,
    movementBeats: v.movementBeats,
    levels: Array.from({ length: mostSteps }, (_, i) => v[`step${i + 1}`]! / 100),
  };
}

const modulo = (x: number, n: number): number => ((x % n) + n) % n;

/**
 * Gain of the pattern at a place counted in beats, before its edges are smoothed, 0..1. Swing moves the boundary in the middle
 * of every pair of steps.
 */
export function patternAt(v: Pattern, beat: number): number {
  const place = beat * v.perBeat;
  const pair = Math.floor(place / 2);
  const within = place - 2 * pair;
  const { boundary } = v;
  const second = within >= boundary;
  const index = modulo(2 * pair + (second ? 1 : 0), v.steps);
  const done = second ? (within - boundary) / (2 - boundary) : within / boundary;
  const shape = v.curve === "falling" ? 1 - done : v.curve === "rising" ? done : 1;
  const chopped = 1 - v.depth * (1 - v.levels[index]! * shape);
  if (v.movement === 0) return chopped;
  return chopped * (1 - v.movement * 0.5 * (1 - Math.cos((2 * Math.PI * beat) / v.movementBeats)));
}

/**
 * Chops a sound by a pattern of gains that is tied to the beats of the song, wherever they wander: before the first and behind
 * the last one the nearest two go on. Without beats the sound passes. Latency 0.
 * Source  common practice, no source.
 */
export class Chopper implements Processor<ChopperValues> {
  readonly latency = 0;
  private rate = 0;
  private readonly cursor = new HitCursor();
  private pattern!: Pattern;
  private pole = 0;
  private gain = 1;
  private fresh = true;

  prepare({ sampleRate }: StreamFormat): void {
    this.rate = sampleRate;
  }
  set(v: ChopperValues): void {
    this.pattern = designPattern(v);
    this.pole = Math.exp(-1 / (v.smooth * this.rate));
  }
  reset(): void {
    this.gain = 1;
    this.fresh = true;
  }
  /** Place of a frame in beats from the first one. */
  private beatAt(beats: Float64Array, position: number): number {
    const last = beats.length - 2;
    const i = Math.max(0, Math.min(last, this.cursor.latestIndex(beats, position)));
    const length = beats[i + 1]! - beats[i]!;
    return length > 0 ? i + (position - beats[i]!) / length : i;
  }
  process(input: Planar, output: Planar, frames: number, { beats, position }: ProcessContext): void {
    const { pole, pattern } = this;
    const tempo = beats.length > 1;
    for (let i = 0; i < frames; i++) {
      const wanted = tempo ? patternAt(pattern, this.beatAt(beats, position + i)) : 1;
      // Playing begins within a step, not with an edge.
      this.gain = this.fresh ? wanted : wanted + pole * (this.gain - wanted);
      this.fresh = false;
      if (Math.abs(this.gain - wanted) < 1e-7) this.gain = wanted;
      for (let ch = 0; ch < output.length; ch++) output[ch]![i] = input[ch]![i]! * this.gain;
    }
  }
}
