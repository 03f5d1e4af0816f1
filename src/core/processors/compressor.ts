import { choice, number, type ParamTable, type ParamValues } from "../params";
import type { Planar, ProcessContext, Processor, ProcessorType, StreamFormat } from "../processor";
import { Cascade, designButterworth } from "../signal/biquad";
import { fastDb, fastGain } from "../signal/fastMath";
import { dbToGain } from "../signal/level";

export const compressorParams = {
  threshold: number("Threshold", "dB", -60, 0, -20, "Level above which it turns down."),
  ratio: number("Ratio", ":1", 1, 30, 4, "Input change in dB for 1 dB more at the output.", "log"),
  knee: number("Knee", "dB", 0, 24, 6, "Width of the bend around the threshold."),
  attack: number("Attack", "s", 0.00005, 0.2, 0.005, "Time to reach 63 % of the reduction.", "log"),
  release: number("Release", "s", 0.005, 3, 0.15, "Time to give back 63 % of it.", "log"),
  makeup: number("Make-up", "dB", -12, 30, 0, "Gain after it."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the compressed signal."),
  detector: choice("Detector", ["peak", "RMS"], "Follows peaks, or the mean power over 10 ms."),
  highPass: number(
    "Detector high-pass",
    "Hz",
    20,
    2000,
    20,
    "The detector hears only what lies above.",
    "log",
  ),
} as const satisfies ParamTable;
type Values = ParamValues<typeof compressorParams>;

/**
 * Output level of the static curve. Units: all dB.
 * Source  Giannoulis, Massberg, Reiss, J. Audio Eng. Soc. 60(6), 2012, eq. 4 (soft knee).
 */
export function compressedLevel(x: number, threshold: number, ratio: number, knee: number): number {
  const over = x - threshold;
  if (2 * over < -knee) return x;
  if (2 * Math.abs(over) <= knee && knee > 0)
    return x + ((1 / ratio - 1) * (over + knee / 2) ** 2) / (2 * knee);
  return threshold + over / ratio;
}

/**
 * Feed-forward compressor, gain computed in dB, then smoothed (smooth branching detector in the log domain).
 * Channels share one detector. Latency 0.
 * Source  Giannoulis, Massberg, Reiss 2012, fig. 7c and eq. 17; make-up and mix common practice.
 */
class Compressor implements Processor<Values> {
  readonly latency = 0;
  reductionDb = 0;
  private sampleRate = 0;
  private filters: Cascade[] = [];
  private heard: Float32Array[] = [];
  private values!: Values;
  private up = 0;
  private down = 0;
  private average = 0;
  private power = 0;
  private wet = 1;
  private dry = 0;
  private gr = 0;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.filters = [new Cascade(1), new Cascade(1)];
    this.heard = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: Values): void {
    this.values = v;
    this.up = Math.exp(-1 / (v.attack * this.sampleRate));
    this.down = Math.exp(-1 / (v.release * this.sampleRate));
    this.average = Math.exp(-1 / (0.01 * this.sampleRate));
    this.wet = v.mix / 100;
    this.dry = 1 - this.wet;
    const sections = v.highPass > 20 ? designButterworth("high", v.highPass, 2, this.sampleRate) : [];
    for (const filter of this.filters) filter.set(sections);
  }
  reset(): void {
    for (const filter of this.filters) filter.reset();
    this.power = 0;
    this.gr = 0;
  }

  process(input: Planar, output: Planar, frames: number, { key }: ProcessContext): void {
    const source = key ?? input;
    const two = source.length > 1;
    const first = this.heard[0]!;
    const second = this.heard[two ? 1 : 0]!;
    this.filters[0]!.process(source[0]!, first, frames);
    if (two) this.filters[1]!.process(source[1]!, second, frames);
    const { threshold, ratio, knee, makeup, detector } = this.values;
    const slope = 1 - 1 / ratio;
    const bend = threshold - knee / 2;
    const bendLevel = dbToGain(bend);
    const restGain = this.dry + this.wet * fastGain(makeup);
    const rms = detector === "RMS";
    let { power, gr } = this;
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      let level = Math.max(Math.abs(first[i]!), Math.abs(second[i]!));
      if (rms) {
        const square = two ? 0.5 * (first[i]! * first[i]! + second[i]! * second[i]!) : level * level;
        power = square + this.average * (power - square);
        if (power < 1e-18) power = 0;
        level = Math.sqrt(power);
      }
      let wanted = 0;
      if (level > bendLevel) {
        const over = fastDb(level) - bend;
        if (over > 0) wanted = over >= knee ? slope * (over - knee / 2) : (slope * over * over) / (2 * knee);
      }
      gr = wanted + (wanted > gr ? this.up : this.down) * (gr - wanted);
      if (gr < 1e-4) gr = 0; // a ten-thousandth of a dB is not heard
      if (gr > deepest) deepest = gr;
      const gain = gr === 0 ? restGain : this.dry + this.wet * fastGain(makeup - gr);
      for (let ch = 0; ch < input.length; ch++) output[ch]![i] = input[ch]![i]! * gain;
    }
    this.power = power;
    this.gr = gr;
    this.reductionDb = deepest;
  }
}

export const compressor: ProcessorType = {
  type: "compressor",
  label: "Compressor",
  help: "Turns loud moments down by a ratio.",
  params: compressorParams,
  create: () => new Compressor() as unknown as Processor,
};
