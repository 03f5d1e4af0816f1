import { number, type AnyValues, type ParamTable } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designAllPass, type Section } from "../../signal/biquad";

export const rotationParams = {
  frequency: number(
    "Turns at",
    "Hz",
    30,
    8000,
    200,
    "Where the phase is turned by half a round: below it nothing, above it a whole round.",
    "log",
  ),
  q: number("Steepness", "", 0.2, 4, 0.7, "How quickly the phase turns around that frequency.", "log"),
} as const satisfies ParamTable;

/** The section of a rotation. Pure. */
export const designRotation = (values: AnyValues, sampleRate: number): Section =>
  designAllPass(values["frequency"] as number, values["q"] as number, sampleRate);

/**
 * Phase rotation: an all-pass that leaves every level as it is and turns the phase around a frequency, for two mics that no
 * delay brings together at all frequencies. Latency 0.
 * Source  W3C Audio EQ Cookbook, "APF".
 */
export class Rotation implements Processor {
  readonly latency = 0;
  private cascades: Cascade[] = [];
  private sampleRate = 0;
  prepare({ sampleRate, channels }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.cascades = Array.from({ length: channels }, () => new Cascade(1));
  }
  set(values: AnyValues): void {
    const section = designRotation(values, this.sampleRate);
    for (const cascade of this.cascades) cascade.set([section]);
  }
  reset(): void {
    for (const cascade of this.cascades) cascade.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++) this.cascades[ch]!.process(input[ch]!, output[ch]!, frames);
  }
}
