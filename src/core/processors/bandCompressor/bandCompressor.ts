import {
  choice,
  isChoice,
  number,
  resolveParams,
  type ChoiceParam,
  type NumberParam,
  type ParamTable,
  type ParamValue,
  type ParamValues,
} from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade } from "../../signal/biquad";
import { ascending, designBands } from "../../signal/crossover";
import { Compressor, compressorParams, type CompressorValues } from "../compressor/compressor";

const cross = (label: string, fallback: number) =>
  number(label, "Hz", 40, 12000, fallback, "Where two bands meet, both 6 dB down.", "log");
/** Most bands. */
export const mostBands = 4;
const settings = [
  "threshold",
  "ratio",
  "attack",
  "release",
  "makeup",
  "knee",
  "hold",
  "range",
  "mix",
  "detector",
  "releases",
] as const;
/** Where a band begins, lowest first: the low end is held, the others wait. Higher ones are faster. */
const usual = [
  { threshold: -24, ratio: 3, attack: 0.02, release: 0.15, makeup: 0 },
  { threshold: -24, ratio: 1, attack: 0.01, release: 0.12, makeup: 0 },
  { threshold: -24, ratio: 1, attack: 0.005, release: 0.1, makeup: 0 },
  { threshold: -24, ratio: 1, attack: 0.003, release: 0.08, makeup: 0 },
] as const;
type Setting = (typeof settings)[number];
type Bands = Readonly<Record<`${Setting}${number}`, NumberParam | ChoiceParam>>;
const bandParams: Bands = Object.fromEntries(
  usual.flatMap((band, i) =>
    settings.map((name): [string, NumberParam | ChoiceParam] => {
      const spec = compressorParams[name];
      const label = `Band ${i + 1}: ${spec.label.toLowerCase()}`;
      if (isChoice(spec)) return [`${name}${i + 1}`, { ...spec, label }];
      const own: Readonly<Record<string, number>> = band;
      return [`${name}${i + 1}`, { ...spec, label, default: own[name] ?? spec.default }];
    }),
  ),
);

export const bandCompressorParams = {
  bands: choice("Bands", ["2", "3", "4"], "How many bands there are."),
  hear: choice("Hear", ["all", "band 1", "band 2", "band 3", "band 4"], "One band alone, lowest first."),
  cross1: cross("Crossover 1", 120),
  cross2: cross("Crossover 2", 800),
  cross3: cross("Crossover 3", 5000),
  ...bandParams,
} as const satisfies ParamTable;
export type BandCompressorValues = ParamValues<typeof bandCompressorParams> &
  Readonly<Record<`${Setting}${number}`, ParamValue>>;

/** Crossovers that are used, ascending whatever is set, Hz. */
export function crossovers(v: BandCompressorValues): number[] {
  return ascending([v.cross1, v.cross2, v.cross3].slice(0, Number(v.bands) - 1));
}

/** What the parameters come to: filters and compressor of every band; the band that is heard alone, or -1. */
export function designBandCompressor(v: BandCompressorValues, sampleRate: number) {
  const bands = designBands(crossovers(v), sampleRate);
  const alone = bandCompressorParams.hear.choices.indexOf(v.hear) - 1;
  const plain = resolveParams(compressorParams, {});
  const compressors = Array.from({ length: mostBands }, (_, band) => {
    const own = Object.fromEntries(settings.map((name) => [name, v[`${name}${band + 1}`]!]));
    return { ...plain, ...own } as CompressorValues;
  });
  return { bands, compressors, alone: alone < bands.length ? alone : -1 };
}

/**
 * A compressor for each of 2 to 4 bands. At rest the sum is flat; its phase is that of one all-pass of second order a
 * crossover. Latency 0.
 */
export class BandCompressor implements Processor<BandCompressorValues> {
  readonly latency = 0;
  reductionDb = 0;
  private rate = 0;
  /** [band][channel] */
  private filters: Cascade[][] = [];
  private compressors: Compressor[] = [];
  private split: Float32Array[] = [];
  private sum: Float32Array[] = [];
  private count = 2;
  private alone = -1;

  prepare(format: StreamFormat): void {
    this.rate = format.sampleRate;
    const each = <T>(make: () => T): T[] => Array.from({ length: format.channels }, make);
    this.filters = Array.from({ length: mostBands }, () => each(() => new Cascade(2 * (mostBands - 1))));
    this.compressors = Array.from({ length: mostBands }, () => new Compressor(false));
    for (const compressor of this.compressors) compressor.prepare(format);
    this.split = each(() => new Float32Array(format.maxFrames));
    this.sum = each(() => new Float32Array(format.maxFrames));
  }
  set(v: BandCompressorValues): void {
    const { bands, compressors, alone } = designBandCompressor(v, this.rate);
    this.count = bands.length;
    this.alone = alone;
    bands.forEach((sections, band) => {
      for (const filter of this.filters[band]!) filter.set(sections);
    });
    this.compressors.forEach((compressor, band) => compressor.set(compressors[band]!));
  }
  reset(): void {
    for (const filter of this.filters.flat()) filter.reset();
    for (const compressor of this.compressors) compressor.reset();
  }
  adopt(from: Processor<BandCompressorValues>): void {
    if (!(from instanceof BandCompressor)) return;
    this.compressors.forEach((compressor, band) => compressor.adopt(from.compressors[band]!));
  }
  process(input: Planar, output: Planar, frames: number, context: ProcessContext): void {
    const { split, sum } = this;
    let deepest = 0;
    for (const s of sum) s.fill(0, 0, frames);
    for (let band = 0; band < this.count; band++) {
      for (let ch = 0; ch < input.length; ch++)
        this.filters[band]![ch]!.process(input[ch]!, split[ch]!, frames);
      const compressor = this.compressors[band]!;
      compressor.process(split, split, frames, context);
      if (compressor.reductionDb > deepest) deepest = compressor.reductionDb;
      if (this.alone >= 0 && this.alone !== band) continue;
      for (let ch = 0; ch < input.length; ch++) {
        const [s, x] = [sum[ch]!, split[ch]!];
        for (let i = 0; i < frames; i++) s[i]! += x[i]!;
      }
    }
    for (let ch = 0; ch < input.length; ch++) output[ch]!.set(sum[ch]!.subarray(0, frames));
    this.reductionDb = deepest;
  }
}
