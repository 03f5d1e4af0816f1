import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";
import { dbToGain } from "../../signal/level";
import { randomSource } from "../../signal/random";

/** Above this the tone filter is open, Hz. */
const open = 20000;
export const reducerParams = {
  bits: number("Bits", "", 1, 24, 12, "Steps of the level: 2 to the power of it; fractions count."),
  rate: number(
    "Rate",
    "Hz",
    500,
    192000,
    192000,
    "New values a second; above the song's rate all are taken.",
    "log",
  ),
  dither: choice("Dither", ["none", "TPDF"], "Noise before the steps that makes their error noise, too."),
  tone: number("Tone", "Hz", 500, open, open, "Low-pass behind it; at its end it is open.", "log"),
  mix: number("Mix", "%", 0, 100, 100, "Share of the reduced signal."),
  output: number("Output", "dB", -24, 24, 0, "Gain after it."),
} as const satisfies ParamTable;
export type ReducerValues = ParamValues<typeof reducerParams>;

const seed = 9;

/**
 * Rounds levels to 2^bits steps of full scale and holds them between fewer instants. Latency 0.
 * Source  uniform mid-tread quantiser: Widrow, Kollár, Quantization Noise, 2008; TPDF of two steps: AES17, Vanderkooy and
 *         Lipshitz, J. Audio Eng. Soc. 37(3), 1989.
 */
export class Reducer implements Processor<ReducerValues> {
  readonly latency = 0;
  private rate = 0;
  private filters: Cascade[] = [];
  private held = new Float64Array(0);
  private wets: Float32Array[] = [];
  private phase = 1;
  private random = randomSource(seed);
  private v!: ReducerValues;
  private size = 0;
  private step = 1;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.filters = Array.from({ length: channels }, () => new Cascade(1));
    this.held = new Float64Array(channels);
    this.wets = Array.from({ length: channels }, () => new Float32Array(maxFrames));
  }
  set(v: ReducerValues): void {
    this.v = v;
    this.size = 2 ** (1 - v.bits);
    this.step = Math.min(1, v.rate / this.rate);
    const sections = v.tone < open ? designButterworth("low", v.tone, 2, this.rate) : [];
    for (const filter of this.filters) filter.set(sections);
  }
  reset(): void {
    for (const filter of this.filters) filter.reset();
    this.held.fill(0);
    this.phase = 1;
    this.random = randomSource(seed);
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { v, size, held, wets, step } = this;
    // Channels take their values at the same instants, with the same noise.
    for (let i = 0; i < frames; i++) {
      if (this.phase >= 1) {
        this.phase -= 1;
        const dither = v.dither === "TPDF" ? this.random() + this.random() - 1 : 0;
        for (let ch = 0; ch < input.length; ch++)
          held[ch] = size * Math.round(input[ch]![i]! / size + dither);
      }
      this.phase += step;
      for (let ch = 0; ch < input.length; ch++) wets[ch]![i] = held[ch]!;
    }
    const out = dbToGain(v.output);
    const share = v.mix / 100;
    for (let ch = 0; ch < input.length; ch++) {
      const [x, y, wet] = [input[ch]!, output[ch]!, wets[ch]!];
      this.filters[ch]!.process(wet, wet, frames);
      for (let i = 0; i < frames; i++) y[i] = out * (share * wet[i]! + (1 - share) * x[i]!);
    }
  }
}
