import { choice, number, type AnyValues, type ParamTable } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { DelayLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { MovingFilter, type MovingShape } from "../../signal/movingFilter";
import { HitCursor } from "../../signal/hitCursor";

/** Bands of the dynamic EQ: two for bleed, and six for whatever else. */
export const dynamicBands = ["low", "high", "band3", "band4", "band5", "band6", "band7", "band8"] as const;
export type DynamicBand = (typeof dynamicBands)[number];
/** What a band is set by, behind its name. */
export const bandValues = [
  "Shape",
  "Frequency",
  "Width",
  "Gain",
  "Range",
  "Threshold",
  "Hears",
  "Attack",
  "Hold",
  "Release",
] as const;

const band = (
  name: string,
  title: string,
  shape: readonly [string, ...string[]],
  hz: number,
  release: number,
  { gain, range, attack } = { gain: -18, range: 18, attack: 0.0002 },
) => ({
  [`${name}Shape`]: choice(`${title} shape`, shape, "What the band does to its side of the corner."),
  [`${name}Frequency`]: number(
    `${title} corner`,
    "Hz",
    20,
    20000,
    hz,
    "Corner of a shelf, middle of a bell.",
    "log",
  ),
  [`${name}Width`]: number(
    `${title} width`,
    "Q",
    0.2,
    10,
    0.7,
    "Width of a bell; steepness of a shelf.",
    "log",
  ),
  [`${name}Gain`]: number(`${title} gain`, "dB", -48, 24, gain, "Gain at rest."),
  [`${name}Range`]: number(
    `${title} range`,
    "dB",
    -48,
    48,
    range,
    "What the signal adds to the gain at rest.",
  ),
  [`${name}Threshold`]: number(`${title} threshold`, "dB", -80, 0, -30, "Level in the band that moves it."),
  [`${name}Hears`]: choice(
    `${title} hears`,
    ["band", "whole mic"],
    "Whether its level is that of the band or of everything.",
  ),
  [`${name}Attack`]: number(`${title} attack`, "s", 0.00005, 0.1, attack, "Time to move to 63 %.", "log"),
  [`${name}Hold`]: number(`${title} hold`, "s", 0, 0.5, 0.01, "Time it stays moved."),
  [`${name}Release`]: number(`${title} release`, "s", 0.005, 2, release, "Time to go back to 37 %.", "log"),
});

/** The bands beyond the two for bleed wait at these frequencies, Hz, and take 6 dB off what gets loud. */
const further = [200, 500, 1000, 2500, 5000, 9000];
const taming = { gain: 0, range: -6, attack: 0.001 };

export const dynamicEqParams: ParamTable = {
  opens: choice("Moved by", ["level", "hits", "both"], "The level in each band, the hits found, or either."),
  ...band("low", "Low", ["off", "low shelf", "bell"], 700, 0.1),
  ...band("high", "High", ["high shelf", "bell", "off"], 700, 0.03),
  ...Object.assign(
    {},
    ...further.map((hz, i) =>
      band(`band${i + 3}`, `Band ${i + 3}`, ["off", "bell", "low shelf", "high shelf"], hz, 0.1, taming),
    ),
  ),
};

/** Look-ahead in seconds: a band begins to move this much before a stroke. */
const lookahead = 0.001;
/** Latency of every dynamic EQ, frames. */
export const dynamicEqLatency = (sampleRate: number): number => Math.ceil(lookahead * sampleRate);

export type BandShape = "off" | MovingShape;

/** What the values of one band mean to its loop: filter at rest, gains in dB, poles per frame. Pure. */
export function designBand(v: AnyValues, name: string, rate: number) {
  const num = (key: string) => v[name + key] as number;
  const g = Math.tan((Math.PI * Math.min(num("Frequency"), 0.49 * rate)) / rate);
  const k = 1 / num("Width");
  const d1 = 1 / (1 + g * (g + k));
  return {
    shape: v[`${name}Shape`] as BandShape,
    /** Its detector hears the whole mic. */
    whole: v[`${name}Hears`] === "whole mic",
    g,
    k,
    /** Detector's coefficients: the band's filter at rest. */
    d1,
    d2: g * d1,
    d3: g * g * d1,
    restDb: num("Gain"),
    rangeDb: num("Range"),
    threshold: dbToGain(num("Threshold")),
    attack: Math.exp(-1 / (num("Attack") * rate)),
    release: Math.exp(-1 / (num("Release") * rate)),
    holdFrames: Math.round((num("Hold") + lookahead) * rate),
  };
}

/** State of one band: coefficients, detector, two integrators per channel. */
class Band {
  private rest!: ReturnType<typeof designBand>;
  private readonly filter = new MovingFilter();
  private held = 0;
  private share = 0; // 0 at rest, 1 fully moved
  /** Gain of the band now, dB. */
  gainDb = 0;
  private readonly detector = new Float64Array(2);

  get shape(): BandShape {
    return this.rest.shape;
  }
  set(v: AnyValues, name: string, rate: number): void {
    this.rest = designBand(v, name, rate);
    const { shape, g, k } = this.rest;
    if (shape !== "off") this.filter.set(shape, g, k);
  }
  reset(): void {
    this.detector.fill(0);
    this.filter.reset();
    this.share = 0;
    this.held = 0;
  }

  /** What the band's detector hears of one frame. */
  listen(x: number): number {
    const level = this.filterDetector(x);
    return this.rest.whole ? Math.abs(x) : level;
  }
  private filterDetector(x: number): number {
    const v3 = x - this.detector[1]!;
    const v1 = this.rest.d1 * this.detector[0]! + this.rest.d2 * v3;
    const v2 = this.detector[1]! + this.rest.d2 * this.detector[0]! + this.rest.d3 * v3;
    const s0 = 2 * v1 - this.detector[0]!;
    const s1 = 2 * v2 - this.detector[1]!;
    this.detector[0] = Math.abs(s0) < 1e-18 ? 0 : s0;
    this.detector[1] = Math.abs(s1) < 1e-18 ? 0 : s1;
    if (this.shape === "low shelf") return Math.abs(v2);
    return Math.abs(this.shape === "bell" ? this.rest.k * v1 : x - this.rest.k * v1 - v2);
  }

  /** Moves the band by one frame. */
  move(level: number, struck: boolean, byLevel: boolean): void {
    if (struck || (byLevel && level >= this.rest.threshold)) this.held = this.rest.holdFrames;
    else if (this.held > 0) this.held--;
    const goal = this.held > 0 ? 1 : 0;
    const pole = goal ? this.rest.attack : this.rest.release;
    this.share = goal + pole * (this.share - goal);
    if (this.share < 1e-6) this.share = 0;
    else if (this.share > 1 - 1e-6) this.share = 1;
    this.gainDb = this.rest.restDb + this.rest.rangeDb * this.share;
    this.filter.moveTo(this.gainDb);
  }

  /** One frame of one channel through the band. */
  run(x: number, ch: number): number {
    return this.filter.run(x, ch);
  }
}

/**
 * Dynamic EQ of eight bands, those for bleed first. Latency 1 ms in whole frames.
 *
 *   input --> delay (1 ms) --> low band --> high band --> bands 3 to 8 --> output
 *     '--> detector per band, or the hits --> hold, attack, release --> gain of the band
 *
 * Source  of the bands: signal/movingFilter.ts.
 * Checked dynamicEq.test.ts: measured response against the closed form.
 */
export class DynamicEq implements Processor {
  latency = 0;
  reductionDb = 0;
  private sampleRate = 0;
  private lines: DelayLine[] = [];
  private dry: Float32Array[] = [];
  private readonly bands = dynamicBands.map(() => new Band());
  private readonly working: Band[] = [];
  private readonly cursor = new HitCursor();
  private byLevel = true;
  private byHits = false;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.latency = dynamicEqLatency(sampleRate);
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.dry = Array.from({ length: channels }, () => new Float32Array(maxFrames));
  }
  set(values: AnyValues): void {
    this.byLevel = values["opens"] !== "hits";
    this.byHits = values["opens"] !== "level";
    this.bands.forEach((band, i) => band.set(values, dynamicBands[i]!, this.sampleRate));
    this.working.length = 0;
    for (const band of this.bands) if (band.shape !== "off") this.working.push(band);
  }
  reset(): void {
    for (const line of this.lines) line.reset();
    for (const band of this.bands) band.reset();
  }

  process(input: Planar, output: Planar, frames: number, { key, hits, position }: ProcessContext): void {
    const source = key ?? input;
    const second = source.length > 1 ? source[1]! : source[0]!;
    const first = source[0]!;
    const channels = input.length;
    for (let ch = 0; ch < channels; ch++) this.lines[ch]!.process(input[ch]!, this.dry[ch]!, frames);
    const { working, byLevel } = this;
    for (let i = 0; i < frames; i++) {
      const heard = Math.abs(first[i]!) >= Math.abs(second[i]!) ? first[i]! : second[i]!;
      const struck = this.byHits && position + i - this.cursor.latest(hits, position + i) < 1;
      for (let ch = 0; ch < channels; ch++) output[ch]![i] = this.dry[ch]![i]!;
      for (let b = 0; b < working.length; b++) {
        const band = working[b]!;
        band.move(byLevel ? band.listen(heard) : 0, struck, byLevel);
        for (let ch = 0; ch < channels; ch++) output[ch]![i] = band.run(output[ch]![i]!, ch);
      }
    }
    let deepest = Infinity;
    for (let b = 0; b < working.length; b++) deepest = Math.min(deepest, working[b]!.gainDb);
    this.reductionDb = working.length > 0 ? -deepest : 0;
  }
}
