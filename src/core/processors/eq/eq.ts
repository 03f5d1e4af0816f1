import { choice, number, type AnyValues, type ParamTable } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designBell, designButterworth, designShelf, type Section } from "../../signal/biquad";

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

/** Sections a pass of 48 dB per octave needs. */
const passSections = 4;
/** Places for sections: high-pass, low shelf, bells, high shelf, low-pass. */
export const eqPlaces = 2 * passSections + 2 + bellCount;

/**
 * Sections of an EQ setting, each in a place of its own, so that one that is switched on does not shift the states of
 * the others; null where the setting is flat. Shape: `eqPlaces` entries.
 * Source  W3C Audio EQ Cookbook for bells and shelves (shelf q 0.7071); Butterworth for the passes.
 */
export function designEqPlaces(values: AnyValues, sampleRate: number): (Section | null)[] {
  const v = (name: string) => values[name] as number;
  const pass = (side: "high" | "low"): (Section | null)[] => {
    const slope = values[`${side}PassSlope`] as string;
    const sections =
      slope === "off"
        ? []
        : designButterworth(side, v(`${side}PassFrequency`), Number(slope) / 6, sampleRate);
    return Array.from({ length: passSections }, (_, i) => sections[i] ?? null);
  };
  const shelf = (side: "high" | "low") => {
    const gain = v(`${side}ShelfGain`);
    return gain === 0 ? null : designShelf(side, v(`${side}ShelfFrequency`), gain, Math.SQRT1_2, sampleRate);
  };
  const bells = Array.from({ length: bellCount }, (_, i) => {
    const gain = v(`bell${i + 1}Gain`);
    return gain === 0 ? null : designBell(v(`bell${i + 1}Frequency`), gain, v(`bell${i + 1}Q`), sampleRate);
  });
  return [...pass("high"), shelf("low"), ...bells, shelf("high"), ...pass("low")];
}

/** Sections of an EQ setting that do something, in the order of the signal. */
export const designEq = (values: AnyValues, sampleRate: number): Section[] =>
  designEqPlaces(values, sampleRate).filter((s) => s !== null);

/** Equaliser. Latency 0; 64-bit state (see biquad.ts). */
export class Eq implements Processor {
  readonly latency = 0;
  private cascades: Cascade[] = [];
  private sampleRate = 0;
  prepare({ sampleRate, channels }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.cascades = Array.from({ length: channels }, () => new Cascade(eqPlaces));
  }
  set(values: AnyValues): void {
    const places = designEqPlaces(values, this.sampleRate);
    for (const cascade of this.cascades) cascade.setPlaces(places);
  }
  reset(): void {
    for (const cascade of this.cascades) cascade.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++) this.cascades[ch]!.process(input[ch]!, output[ch]!, frames);
  }
}
