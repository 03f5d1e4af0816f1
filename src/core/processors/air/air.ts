import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";
import { DelayLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { Oversampler } from "../../signal/oversampler";

export const airParams = {
  frequency: number(
    "Frequency",
    "Hz",
    1000,
    12000,
    4000,
    "Only what lies above makes harmonics, and only what lies above is added.",
    "log",
  ),
  drive: number("Drive", "dB", 0, 36, 12, "Level into the bend: loud moments make more than soft ones."),
  even: number("Even harmonics", "%", 0, 100, 50, "Share of even harmonics; the rest are odd."),
  amount: number("Amount", "dB", -60, 12, -6, "Level of the harmonics that are added."),
} as const satisfies ParamTable;
export type AirValues = ParamValues<typeof airParams>;

/** Slope of the filters before and behind the bend, 6 dB per octave and order. */
const order = 4;

/** What the parameters come to: gains, linear, and the filters before and behind the bend. */
export function designAir(v: AirValues, sampleRate: number) {
  const amount = v.amount <= airParams.amount.min ? 0 : dbToGain(v.amount);
  const even = (amount * v.even) / 100;
  const sections = designButterworth("high", v.frequency, order, sampleRate);
  return { drive: dbToGain(v.drive), even, odd: amount - even, sections };
}

/**
 * Adds harmonics of what lies above a frequency. The bend x / sqrt(1 + x^2) gives the odd ones once the straight part is
 * taken out, its square the even ones; a second high-pass takes away what falls below, difference tones and the mean among
 * it. Four times oversampled; the signal itself passes to the bit. Latency `Oversampler.latency`.
 * Source  series x - x^3/2 + ... of the bend; harmonic generation by a filtered side path: common practice, no source.
 */
export class Air implements Processor<AirValues> {
  readonly latency = Oversampler.latency;
  private rate = 0;
  private before: Cascade[] = [];
  private behind: Cascade[] = [];
  private samplers: Oversampler[] = [];
  private lines: DelayLine[] = [];
  private side = new Float32Array(0);
  private drive = 1;
  private odd = 0;
  private even = 0;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    const each = <T>(make: () => T): T[] => Array.from({ length: channels }, make);
    this.before = each(() => new Cascade(order / 2));
    this.behind = each(() => new Cascade(order / 2));
    this.samplers = each(() => new Oversampler(maxFrames));
    this.lines = each(() => new DelayLine(this.latency));
    this.side = new Float32Array(maxFrames);
  }
  set(v: AirValues): void {
    const { drive, odd, even, sections } = designAir(v, this.rate);
    this.drive = drive;
    this.odd = odd;
    this.even = even;
    for (const filter of [...this.before, ...this.behind]) filter.set(sections);
  }
  reset(): void {
    for (const one of [...this.before, ...this.behind, ...this.samplers, ...this.lines]) one.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { side, drive, odd, even } = this;
    for (let ch = 0; ch < input.length; ch++) {
      const sampler = this.samplers[ch]!;
      this.before[ch]!.process(input[ch]!, side, frames);
      sampler.up(side, frames);
      const { fast } = sampler;
      for (let i = 0; i < 4 * frames; i++) {
        const x = drive * fast[i]!;
        const bent = x / Math.sqrt(1 + x * x);
        fast[i] = odd * (bent - x) + even * bent * bent;
      }
      sampler.down(side, frames);
      this.behind[ch]!.process(side, side, frames);
      const y = output[ch]!;
      this.lines[ch]!.process(input[ch]!, y, frames);
      for (let i = 0; i < frames; i++) y[i]! += side[i]!;
    }
  }
}
