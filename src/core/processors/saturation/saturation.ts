import { oversamplingParams } from "../oversampling";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { DelayLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { OversampledBend, type Bend } from "../../signal/oversampledBend";
import { Oversampler } from "../../signal/oversampler";

export const saturationParams = {
  character: choice("Character", ["soft", "rounded", "hard"], "How sharply peaks are bent."),
  drive: number("Drive", "dB", -12, 36, 6, "Level into the bend."),
  even: number("Even harmonics", "%", 0, 100, 0, "Leans the bend to one side, which adds the octave."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the saturated signal."),
  output: number("Output", "dB", -36, 12, -6, "Gain after it."),
  ...oversamplingParams,
} as const satisfies ParamTable;
export type SaturationValues = ParamValues<typeof saturationParams>;
type Values = SaturationValues;

/**
 * Rational stand-in for tanh, exact to 3 % and smooth up to its flat ends at +-3.
 * Source  Pade approximant x (27 + x^2) / (27 + 9 x^2), value 1 and slope 0 at x = 3.
 */
export function bendSoft(x: number): number {
  if (x > 3) return 1;
  if (x < -3) return -1;
  const x2 = x * x;
  return (x * (27 + x2)) / (27 + 9 * x2);
}

/** Gentle bend that never ends: x / sqrt(1 + x^2). */
export const bendRounded = (x: number): number => x / Math.sqrt(1 + x * x);

/**
 * Quintic that is flat from +-1 on and reaches it without a kink in slope or curvature, so that its harmonics fall
 * fast enough for the oversampling; slope 15/8 at rest.
 */
export function bendHard(x: number): number {
  if (x > 1) return 1;
  if (x < -1) return -1;
  const x2 = x * x;
  return (x * (15 + x2 * (3 * x2 - 10))) / 8;
}

/** Bends a block in place: one loop a character, so that the compiler can put the bend into it. */
function bendAll(
  character: Values["character"],
  x: Float64Array,
  frames: number,
  drive: number,
  bias: number,
  centre: number,
): void {
  if (character === "soft") for (let i = 0; i < frames; i++) x[i] = bendSoft(drive * x[i]! + bias) - centre;
  else if (character === "hard")
    for (let i = 0; i < frames; i++) x[i] = bendHard(drive * x[i]! + bias) - centre;
  else for (let i = 0; i < frames; i++) x[i] = bendRounded(drive * x[i]! + bias) - centre;
}

const bends = { soft: bendSoft, rounded: bendRounded, hard: bendHard } as const;

/** What the values of a saturation mean to its loop, linear. Pure. */
export function designSaturation(v: Values) {
  const bias = 0.5 * (v.even / 100);
  const out = dbToGain(v.output);
  const mix = v.mix / 100;
  return {
    character: v.character,
    drive: dbToGain(v.drive),
    bias,
    /** What the bias alone would give, taken out again. */
    centre: bends[v.character](bias),
    wet: mix * out,
    straight: (1 - mix) * out,
  };
}

/**
 * Saturation at a multiple of the rate. Even harmonics come from a bias before the bend whose constant part is taken
 * out again. Latency `Oversampler.latency`; the dry part of the mix is delayed by the same.
 */
export class Saturation implements Processor<Values>, Bend {
  readonly latency = Oversampler.latency;
  private samplers: OversampledBend[] = [];
  private lines: DelayLine[] = [];
  private dry = new Float32Array(0);
  private design!: ReturnType<typeof designSaturation>;

  prepare({ channels, maxFrames }: StreamFormat): void {
    this.samplers = Array.from({ length: channels }, () => new OversampledBend(maxFrames));
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.dry = new Float32Array(maxFrames);
  }
  set(v: Values): void {
    this.design = designSaturation(v);
    for (const sampler of this.samplers) sampler.choose(v.oversampling);
  }
  reset(): void {
    for (const sampler of this.samplers) sampler.reset();
    for (const line of this.lines) line.reset();
  }
  bend(fast: Float64Array, frames: number, factor: number): void {
    const { character, drive, bias, centre } = this.design;
    bendAll(character, fast, factor * frames, drive, bias, centre);
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { dry } = this;
    const { wet, straight } = this.design;
    for (let ch = 0; ch < input.length; ch++) {
      this.lines[ch]!.process(input[ch]!, dry, frames);
      const y = output[ch]!;
      this.samplers[ch]!.process(input[ch]!, y, frames, this);
      for (let i = 0; i < frames; i++) y[i] = wet * y[i]! + straight * dry[i]!;
    }
  }
}
