import { choice, number, type AnyValues, type ParamTable } from "../params";
import type { Planar, Processor, ProcessorType, StreamFormat } from "../processor";
import { Cascade, designBell, designButterworth, designShelf, type Section } from "../signal/biquad";

/** Bells an EQ has. */
export const bellCount = 4;

const bell = (n: number, frequency: number) => ({
  [`bell${n}Frequency`]: number(`Bell ${n}`, "Hz", 20, 20000, frequency, "Middle of the bell.", "log"),
  [`bell${n}Gain`]: number(`Bell ${n} gain`, "dB", -24, 24, 0, "Boost or cut at the middle of the bell."),
  [`bell${n}Q`]: number(`Bell ${n} width`, "Q", 0.2, 20, 1, "Higher is narrower.", "log"),
});

const slopes = ["off", "6", "12", "18", "24", "36", "48"] as const;

export const eqParams: ParamTable = {
  highPassSlope: choice("High-pass", slopes, "Steepness in dB per octave of the high-pass."),
  highPassFrequency: number("High-pass at", "Hz", 10, 20000, 40, "What lies below is taken away.", "log"),
  lowShelfFrequency: number("Low shelf", "Hz", 20, 20000, 100, "Corner of the low shelf.", "log"),
  lowShelfGain: number("Low shelf gain", "dB", -24, 24, 0, "Boost or cut below the corner."),
  ...bell(1, 200),
  ...bell(2, 400),
  ...bell(3, 1000),
  ...bell(4, 4000),
  highShelfFrequency: number("High shelf", "Hz", 20, 20000, 8000, "Corner of the high shelf.", "log"),
  highShelfGain: number("High shelf gain", "dB", -24, 24, 0, "Boost or cut above the corner."),
  lowPassSlope: choice("Low-pass", slopes, "Steepness in dB per octave of the low-pass."),
  lowPassFrequency: number("Low-pass at", "Hz", 20, 20000, 18000, "What lies above is taken away.", "log"),
};

/**
 * Sections of an EQ setting; what is flat costs nothing.
 * Source  W3C Audio EQ Cookbook for bells and shelves (shelf q 0.7071); Butterworth for the passes.
 */
export function designEq(values: AnyValues, sampleRate: number): Section[] {
  const v = (name: string) => values[name] as number;
  const sections: Section[] = [];
  const pass = (side: "high" | "low", slope: string, frequency: number) => {
    if (slope !== "off") sections.push(...designButterworth(side, frequency, Number(slope) / 6, sampleRate));
  };
  pass("high", values["highPassSlope"] as string, v("highPassFrequency"));
  if (v("lowShelfGain") !== 0)
    sections.push(designShelf("low", v("lowShelfFrequency"), v("lowShelfGain"), Math.SQRT1_2, sampleRate));
  for (let n = 1; n <= bellCount; n++) {
    const gain = v(`bell${n}Gain`);
    if (gain !== 0) sections.push(designBell(v(`bell${n}Frequency`), gain, v(`bell${n}Q`), sampleRate));
  }
  if (v("highShelfGain") !== 0)
    sections.push(designShelf("high", v("highShelfFrequency"), v("highShelfGain"), Math.SQRT1_2, sampleRate));
  pass("low", values["lowPassSlope"] as string, v("lowPassFrequency"));
  return sections;
}

/** Most sections one setting can need: two passes of 48 dB per octave, two shelves, the bells. */
const maxSections = 4 + 4 + 2 + bellCount;

/** Equaliser. Latency 0; 64-bit state (see biquad.ts). */
class Eq implements Processor {
  readonly latency = 0;
  private cascades: Cascade[] = [];
  private sampleRate = 0;
  prepare({ sampleRate, channels }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.cascades = Array.from({ length: channels }, () => new Cascade(maxSections));
  }
  set(values: AnyValues): void {
    const sections = designEq(values, this.sampleRate);
    for (const cascade of this.cascades) cascade.set(sections);
  }
  reset(): void {
    for (const cascade of this.cascades) cascade.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++) this.cascades[ch]!.process(input[ch]!, output[ch]!, frames);
  }
}

export const eq: ProcessorType = {
  type: "eq",
  label: "EQ",
  help: "High- and low-pass, two shelves and four bells.",
  params: eqParams,
  create: () => new Eq(),
};
