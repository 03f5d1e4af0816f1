import { designHalfBand, designShort, Doubler, Halver, ShortHalver } from "./rateFilters";

const upPairs = 24; // 95 taps: images of what lies below 20 kHz are 80 dB down
const downPairs = 64; // 255 taps: 80 dB down from 1.04 times the Nyquist frequency on
const widePairs = 6; // 23 taps: the octave above is far away

/** Taps of the three half-band filters of the steep way. */
export const halfBands = {
  up: designHalfBand(upPairs, 8),
  wide: designHalfBand(widePairs, 8),
  down: designHalfBand(downPairs, 8),
} as const;

/** To a multiple of the rate and back: between `up` and `down` the caller changes `fast`, `factor` times the frames. */
export interface RateWay {
  readonly factor: 2 | 4 | 8;
  readonly fast: Float64Array;
  up(x: Float32Array, frames: number): void;
  down(y: Float32Array, frames: number): void;
  reset(): void;
}

/** Late by one value, in place. */
class OneLate {
  private held = 0;
  reset(): void {
    this.held = 0;
  }
  process(x: Float64Array, count: number): void {
    let { held } = this;
    for (let i = 0; i < count; i++) {
      const v = x[i]!;
      x[i] = held;
      held = v;
    }
    this.held = held;
  }
}

/**
 * Four times the rate and back by steep half-bands, linear phase: open to 23 kHz at 48 kHz.
 * Latency `Oversampler.latency` frames, whole by a one-frame delay at twice the rate.
 */
export class Oversampler implements RateWay {
  /** (2 up - 1 + 2 down - 1) / 2 frames for the steep pair, (4 * 6 - 2) / 4 + 0.5 for the wide one. */
  static readonly latency = upPairs + downPairs - 1 + (2 * (2 * widePairs - 1)) / 4 + 0.5;
  readonly factor = 4;
  private readonly twice: Float64Array;
  private readonly once: Float64Array;
  readonly fast: Float64Array; // four times the frames, to be changed in place
  private readonly upSteep: Doubler;
  private readonly upWide: Doubler;
  private readonly downWide: Halver;
  private readonly downSteep: Halver;
  private readonly late = new OneLate();

  constructor(maxFrames: number) {
    this.once = new Float64Array(maxFrames);
    this.twice = new Float64Array(2 * maxFrames);
    this.fast = new Float64Array(4 * maxFrames);
    this.upSteep = new Doubler(halfBands.up, maxFrames);
    this.upWide = new Doubler(halfBands.wide, 2 * maxFrames);
    this.downWide = new Halver(halfBands.wide, 2 * maxFrames);
    this.downSteep = new Halver(halfBands.down, maxFrames);
  }
  reset(): void {
    for (const stage of [this.upSteep, this.upWide, this.downWide, this.downSteep, this.late]) stage.reset();
  }
  up(x: Float32Array, frames: number): void {
    this.upSteep.process(x, this.twice, frames);
    this.upWide.process(this.twice, this.fast, 2 * frames);
  }
  down(y: Float32Array, frames: number): void {
    const { twice, once } = this;
    this.downWide.process(this.fast, twice, 2 * frames);
    this.late.process(twice, 2 * frames);
    this.downSteep.process(twice, once, frames);
    for (let i = 0; i < frames; i++) y[i] = once[i]!;
  }
}

const shortUpPairs = 12; // 47 taps: images of what lies below 19.5 kHz are 65 dB down
const shortWidePairs = 4; // 15 taps, for every octave above
const shortDownPairs = 16; // 65 taps: 64 dB down from 25 kHz on, 0.4 dB at 20 kHz

/** Taps of the filters of the short ways. */
export const shortFilters = {
  up: designHalfBand(shortUpPairs, 7),
  wide: designHalfBand(shortWidePairs, 8),
  down: designShort(shortDownPairs, 66, 25 / 24),
} as const;

type Factor = RateWay["factor"];
/** Frames by which the filters of a short way are late, the delay by one value among them that makes them whole. */
const shortLatency = (factor: Factor): number => {
  const steep = (2 * shortUpPairs - 1) / 2 + shortDownPairs;
  const wide = 2 * shortWidePairs - 1;
  if (factor === 2) return steep + 1 / 2;
  return factor === 4 ? steep + (2 * wide) / 4 : steep + (2 * wide) / 4 + (2 * wide) / 8 + 1 / 4;
};
/** Frames by which a short way waits, so that all ways are equally late. */
export const shortWait = (factor: Factor): number => Oversampler.latency - shortLatency(factor);

/**
 * Two, four or eight times the rate and back by short filters, linear phase: half the work of the steep way, open to 19.5 kHz
 * at 48 kHz. Latency `Oversampler.latency`.
 */
export class ShortOversampler implements RateWay {
  readonly fast: Float64Array;
  private readonly line: Float32Array;
  private readonly wait: number;
  private readonly once: Float64Array;
  /** Frames at twice, four times … the rate; the last is `fast`. */
  private readonly rates: Float64Array[];
  private readonly ups: Doubler[];
  private readonly downs: Halver[];
  private readonly last: ShortHalver;
  private readonly late = new OneLate();

  constructor(
    readonly factor: Factor,
    maxFrames: number,
  ) {
    this.wait = shortWait(factor);
    this.line = new Float32Array(this.wait + maxFrames);
    this.once = new Float64Array(maxFrames);
    const octaves = Math.log2(factor);
    this.rates = Array.from({ length: octaves }, (_, k) => new Float64Array(2 ** (k + 1) * maxFrames));
    this.fast = this.rates[octaves - 1]!;
    const { up, wide, down } = shortFilters;
    this.ups = this.rates.map((_, k) => new Doubler(k === 0 ? up : wide, 2 ** k * maxFrames));
    this.downs = this.rates.slice(1).map((_, k) => new Halver(wide, 2 ** (k + 1) * maxFrames));
    this.last = new ShortHalver(down, maxFrames);
  }
  reset(): void {
    for (const stage of [...this.ups, ...this.downs, this.last, this.late]) stage.reset();
    this.line.fill(0);
  }
  up(x: Float32Array, frames: number): void {
    const { line, wait, rates, ups } = this;
    line.set(x.subarray(0, frames), wait);
    ups[0]!.process(line, rates[0]!, frames);
    for (let k = 1; k < ups.length; k++) ups[k]!.process(rates[k - 1]!, rates[k]!, 2 ** k * frames);
    line.copyWithin(0, frames, wait + frames);
  }
  down(y: Float32Array, frames: number): void {
    const { rates, downs, once, factor, late } = this;
    for (let k = downs.length; k > 0; k--) {
      downs[k - 1]!.process(rates[k]!, rates[k - 1]!, 2 ** k * frames);
      if (k === 2) late.process(rates[1]!, 4 * frames);
    }
    if (factor === 2) late.process(rates[0]!, 2 * frames);
    this.last.process(rates[0]!, once, frames);
    for (let i = 0; i < frames; i++) y[i] = once[i]!;
  }
}
