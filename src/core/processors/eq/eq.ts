import { choice, number, type AnyValues, type ChoiceParam, type ParamTable } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import {
  Cascade,
  designBandPass,
  designBell,
  designButterworth,
  designNotch,
  designShelf,
  type Section,
} from "../../signal/biquad";
import { dbToGain } from "../../signal/level";

/** Bands an EQ has beside its passes and shelves; with these they are 16. */
export const bellCount = 12;
/** Bands that are always shown; the others come in one by one. */
export const shownBells = 4;

const shapes = ["bell", "low shelf", "high shelf", "tilt", "notch", "band-pass"] as const;
export type BandShape = (typeof shapes)[number];
/** Shapes that work without a gain. */
const gainless: readonly string[] = ["notch", "band-pass"];

const bell = (n: number, frequency: number) => ({
  [`bell${n}Frequency`]: number(
    `Band ${n}`,
    "Hz",
    20,
    20000,
    frequency,
    "Middle of a bell, corner of a shelf.",
    "log",
  ),
  [`bell${n}Gain`]: number(`Band ${n} gain`, "dB", -24, 24, 0, "Boost or cut by the band."),
  [`bell${n}Q`]: number(`Band ${n} width`, "Q", 0.2, 20, 1, "Higher is narrower.", "log"),
  [`bell${n}Shape`]: choice(
    `Band ${n} shape`,
    shapes,
    "What the band is; a notch and a band-pass need no gain.",
  ),
  [`bell${n}Side`]: choice(
    `Band ${n} on`,
    bandSides,
    "Of a pair: both sides, one, what they share, or what differs.",
  ),
  [`bell${n}Ratio`]: number(
    `Band ${n} of the fundamental`,
    "",
    0,
    64,
    0,
    "Times the fundamental; 0: at its own frequency.",
  ),
});

/** What a band of a pair works on. */
export const bandSides = ["both", "left", "right", "mid", "side"] as const;
export type BandSide = (typeof bandSides)[number];

const slopes = ["off", "6", "12", "18", "24", "36", "48"] as const;

export const eqParams: ParamTable = {
  highPassSlope: choice("High-pass", slopes, "Steepness in dB per octave of the high-pass."),
  highPassFrequency: number("High-pass at", "Hz", 10, 20000, 40, "What lies below is taken away.", "log"),
  lowShelfFrequency: number("Low shelf", "Hz", 20, 20000, 100, "Corner of the low shelf.", "log"),
  lowShelfGain: number("Low shelf gain", "dB", -24, 24, 0, "Boost or cut below the corner."),
  lowShelfDip: number(
    "Dip above it",
    "dB",
    0,
    12,
    0,
    "Takes out what lies just above the low shelf while it lifts.",
  ),
  ...bell(1, 200),
  ...bell(2, 400),
  ...bell(3, 1000),
  ...bell(4, 4000),
  ...bell(5, 80),
  ...bell(6, 300),
  ...bell(7, 600),
  ...bell(8, 1500),
  ...bell(9, 2500),
  ...bell(10, 6000),
  ...bell(11, 9000),
  ...bell(12, 12000),
  highShelfFrequency: number("High shelf", "Hz", 20, 20000, 8000, "Corner of the high shelf.", "log"),
  highShelfGain: number("High shelf gain", "dB", -24, 24, 0, "Boost or cut above the corner."),
  lowPassSlope: choice("Low-pass", slopes, "Steepness in dB per octave of the low-pass."),
  lowPassFrequency: number("Low-pass at", "Hz", 20, 20000, 18000, "What lies above is taken away.", "log"),
  fundamental: number(
    "Fundamental",
    "Hz",
    20,
    2000,
    100,
    "Of the drum: bands that are tied follow it.",
    "log",
  ),
  widths: choice(
    "Widths",
    ["constant", "narrower with gain"],
    "Bells keep their width, or narrow as they are lifted or cut.",
  ),
  hear: choice(
    "Hear",
    ["all", ...Array.from({ length: bellCount }, (_, i) => `band ${i + 1}`)],
    "One band alone, as a band-pass.",
  ),
};

/** True where a band does something, by its shape and gain. */
export const bandWorks = (values: AnyValues, n: number): boolean =>
  gainless.includes(values[`bell${n}Shape`] as string) || values[`bell${n}Gain`] !== 0;

/** Where a band stands: at its own frequency, or tied to the fundamental. Hz, within what the band can do. */
export function bandFrequency(values: AnyValues, n: number): number {
  const ratio = values[`bell${n}Ratio`] as number;
  const wanted =
    ratio > 0 ? ratio * (values["fundamental"] as number) : (values[`bell${n}Frequency`] as number);
  return Math.min(20000, Math.max(20, wanted));
}

/** Gain at which a bell that narrows with gain is twice as narrow, dB. */
const narrowsBy = 12;
/** Sections a pass of 48 dB per octave needs. */
const passSections = 4;
/** The dip's corner against the low shelf's, so far that its cut begins where the lift has ended. */
const dipAbove = 4;
/** Places for sections: high-pass, low shelf and its dip, bells, high shelf, low-pass. */
export const eqPlaces = 2 * passSections + 3 + bellCount;

/** Tilt around a frequency: the gain in dB above, its negative below. A high shelf of twice the gain, turned down by it. */
function designTilt(frequency: number, gain: number, q: number, sampleRate: number): Section {
  const shelf = designShelf("high", frequency, 2 * gain, q, sampleRate);
  const down = dbToGain(-gain);
  return { ...shelf, b0: down * shelf.b0, b1: down * shelf.b1, b2: down * shelf.b2 };
}

function designBand(values: AnyValues, n: number, sampleRate: number): Section | null {
  if (!bandWorks(values, n)) return null;
  const gain = values[`bell${n}Gain`] as number;
  const set = values[`bell${n}Q`] as number;
  const f = bandFrequency(values, n);
  switch (values[`bell${n}Shape`] as BandShape) {
    case "bell": {
      const narrower = values["widths"] === "constant" ? 1 : 1 + Math.abs(gain) / narrowsBy;
      return designBell(f, gain, set * narrower, sampleRate);
    }
    case "low shelf":
      return designShelf("low", f, gain, set * Math.SQRT1_2, sampleRate);
    case "high shelf":
      return designShelf("high", f, gain, set * Math.SQRT1_2, sampleRate);
    case "tilt":
      return designTilt(f, gain, set * 0.5, sampleRate);
    case "notch":
      return designNotch(f, set, sampleRate);
    case "band-pass":
      return designBandPass(f, set, sampleRate);
  }
}

type Places = readonly (Section | null)[];

/** Bands that work on these sides, each in its place. */
const designBands = (values: AnyValues, sampleRate: number, on: readonly BandSide[]): Places =>
  Array.from({ length: bellCount }, (_, i) =>
    on.includes(values[`bell${i + 1}Side`] as BandSide) ? designBand(values, i + 1, sampleRate) : null,
  );

/**
 * Sections of an EQ setting, each in a place of its own, so that one that is switched on does not shift the states of
 * the others; null where the setting is flat. Shape: `eqPlaces` entries.
 * Source  W3C Audio EQ Cookbook for bells, shelves (shelf q 0.7071 at width 1), notch and band-pass; Butterworth for the
 *         passes. Lift and dip at once: a lift of both together and a cut two octaves above, common practice, no source.
 */
export function designEqPlaces(
  values: AnyValues,
  sampleRate: number,
  on: readonly BandSide[] = bandSides,
): (Section | null)[] {
  const v = (name: string) => values[name] as number;
  const alone = (eqParams["hear"] as ChoiceParam).choices.indexOf(values["hear"] as string);
  if (alone > 0) {
    const heard = designBandPass(bandFrequency(values, alone), Math.max(1, v(`bell${alone}Q`)), sampleRate);
    return Array.from({ length: eqPlaces }, (_, i) => (i === 2 * passSections ? heard : null));
  }
  const pass = (side: "high" | "low"): (Section | null)[] => {
    const slope = values[`${side}PassSlope`] as string;
    const sections =
      slope === "off"
        ? []
        : designButterworth(side, v(`${side}PassFrequency`), Number(slope) / 6, sampleRate);
    return Array.from({ length: passSections }, (_, i) => sections[i] ?? null);
  };
  const shelf = (side: "high" | "low", frequency: number, gain: number) =>
    gain === 0 ? null : designShelf(side, frequency, gain, Math.SQRT1_2, sampleRate);
  const low = v("lowShelfFrequency");
  const dip = v("lowShelfDip");
  return [
    ...pass("high"),
    shelf("low", low, v("lowShelfGain") + dip),
    ...designBands(values, sampleRate, on),
    shelf("high", v("highShelfFrequency"), v("highShelfGain")),
    ...pass("low"),
    shelf("low", dipAbove * low, -dip),
  ];
}

/** Bands of one channel: all of it is mid. */
const onOne: readonly BandSide[] = ["both", "left", "right", "mid"];
/** Sections of a setting by what they work on: left and right of a pair, then its mid and side, `split` where these do something; or one channel. */
export function designEqSides(values: AnyValues, sampleRate: number) {
  const on = (side: BandSide): Places => designBands(values, sampleRate, [side]);
  const alone = values["hear"] !== "all";
  const [mid, side] = alone ? [[], []] : [on("mid"), on("side")];
  return {
    one: designEqPlaces(values, sampleRate, onOne),
    left: designEqPlaces(values, sampleRate, ["both", "left"]),
    right: designEqPlaces(values, sampleRate, ["both", "right"]),
    mid,
    side,
    split: [...mid, ...side].some((s) => s !== null),
  };
}

/** Sections of an EQ setting that do something, in the order of the signal. */
export const designEq = (values: AnyValues, sampleRate: number): Section[] =>
  designEqPlaces(values, sampleRate).filter((s) => s !== null);

/** Equaliser: bands of both sides or of one, then those of mid and side. Latency 0; 64-bit state (see biquad.ts). */
export class Eq implements Processor {
  readonly latency = 0;
  private cascades: Cascade[] = [];
  private readonly mid = new Cascade(bellCount);
  private readonly side = new Cascade(bellCount);
  private mids = new Float32Array(0);
  private sides = new Float32Array(0);
  private split = false;
  private sampleRate = 0;
  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.cascades = Array.from({ length: channels }, () => new Cascade(eqPlaces));
    this.mids = new Float32Array(maxFrames);
    this.sides = new Float32Array(maxFrames);
  }
  set(values: AnyValues): void {
    const { one, left, right, mid, side, split } = designEqSides(values, this.sampleRate);
    const pair = this.cascades.length > 1;
    this.cascades.forEach((cascade, ch) => cascade.setPlaces(pair ? (ch === 0 ? left : right) : one));
    this.mid.setPlaces(mid);
    this.side.setPlaces(side);
    this.split = split && pair;
  }
  reset(): void {
    for (const cascade of [...this.cascades, this.mid, this.side]) cascade.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++) this.cascades[ch]!.process(input[ch]!, output[ch]!, frames);
    if (!this.split) return;
    const { mids, sides } = this;
    const [left, right] = [output[0]!, output[1]!];
    for (let i = 0; i < frames; i++) {
      mids[i] = 0.5 * (left[i]! + right[i]!);
      sides[i] = 0.5 * (left[i]! - right[i]!);
    }
    this.mid.process(mids, mids, frames);
    this.side.process(sides, sides, frames);
    for (let i = 0; i < frames; i++) {
      left[i] = mids[i]! + sides[i]!;
      right[i] = mids[i]! - sides[i]!;
    }
  }
}
