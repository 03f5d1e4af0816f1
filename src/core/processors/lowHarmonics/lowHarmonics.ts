import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designBell, designButterworth } from "../../signal/biquad";
import { dbToGain } from "../../signal/level";
import { LEAST, Q } from "./rows";

/** At its lowest value a harmonic is off. */
const off = -60;
const harmonic = (label: string, fallback: number) =>
  number(label, "dB", off, 6, fallback, `Against the fundamental's own level; ${off} is off.`);

export const lowHarmonicsParams = {
  frequency: number("Fundamental", "Hz", 30, 200, 60, "Whose harmonics are made.", "log"),
  second: harmonic("Second", -10),
  third: harmonic("Third", -14),
  fourth: harmonic("Fourth", -22),
  fifth: harmonic("Fifth", off),
  fundamental: number("Fundamental itself", "dB", -24, 0, 0, "Turned down, where harmonics stand in for it."),
} as const satisfies ParamTable;
export type LowHarmonicsValues = ParamValues<typeof lowHarmonicsParams>;

/** What the parameters come to: coefficients, gains of the harmonics, linear, and filters. */
export function designLowHarmonics(v: LowHarmonicsValues, sampleRate: number) {
  const g = Math.tan((Math.PI * v.frequency) / sampleRate);
  const a1 = 1 / (1 + g * (g + 1 / Q));
  return {
    a1,
    a2: g * a1,
    a3: g * g * a1,
    gains: [v.second, v.third, v.fourth, v.fifth].map((db) => (db <= off ? 0 : dbToGain(db))),
    bell: v.fundamental < 0 ? [designBell(v.frequency, v.fundamental, Q, sampleRate)] : [],
    low: designButterworth("low", 3 * v.frequency, 2, sampleRate),
  };
}

/**
 * Makes harmonics of a low fundamental, each as loud against it as is set, at any level. A resonant filter gives the band
 * and its quadrature, c and s; the n-th power of c + i s turns n times as fast, and divided by its amplitude n - 1 times it
 * is as loud as the fundamental. No harmonic reaches higher than five times the band, so nothing folds. Latency 0.
 * Source  state-variable filter: Simper, "Solving the continuous SVF equations using trapezoidal integration", 2013; powers
 *         of a phasor: de Moivre.
 */
export class LowHarmonics implements Processor<LowHarmonicsValues> {
  readonly latency = 0;
  private rate = 0;
  private state = new Float64Array(0);
  private gains: readonly number[] = [];
  /** Turns the fundamental itself down. */
  private bells: Cascade[] = [];
  /** Keeps what lies far above from the band, whose own slope is gentle. */
  private lows: Cascade[] = [];
  private low = new Float32Array(0);
  private a1 = 0;
  private a2 = 0;
  private a3 = 0;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.bells = Array.from({ length: channels }, () => new Cascade(1));
    this.lows = Array.from({ length: channels }, () => new Cascade(1));
    this.low = new Float32Array(maxFrames);
    this.state = new Float64Array(2 * channels);
  }
  set(v: LowHarmonicsValues): void {
    const d = designLowHarmonics(v, this.rate);
    this.a1 = d.a1;
    this.a2 = d.a2;
    this.a3 = d.a3;
    this.gains = d.gains;
    for (const filter of this.bells) filter.set(d.bell);
    for (const filter of this.lows) filter.set(d.low);
  }
  reset(): void {
    for (const filter of [...this.bells, ...this.lows]) filter.reset();
    this.state.fill(0);
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { a1, a2, a3, gains, state, low: x } = this;
    for (let ch = 0; ch < input.length; ch++) {
      const y = output[ch]!;
      this.lows[ch]!.process(input[ch]!, x, frames);
      this.bells[ch]!.process(input[ch]!, y, frames);
      let ic1 = state[2 * ch]!;
      let ic2 = state[2 * ch + 1]!;
      for (let i = 0; i < frames; i++) {
        const v3 = x[i]! - ic2;
        const band = a1 * ic1 + a2 * v3;
        const lowPass = ic2 + a2 * ic1 + a3 * v3;
        ic1 = 2 * band - ic1;
        ic2 = 2 * lowPass - ic2;
        const c = band / Q;
        const s = lowPass / Q;
        const amplitude = Math.hypot(c, s);
        if (amplitude > LEAST) {
          let sum = 0;
          let [re, im] = [c, s];
          for (let n = 0; n < gains.length; n++) {
            const turned = (re * c - im * s) / amplitude;
            im = (re * s + im * c) / amplitude;
            re = turned;
            sum += gains[n]! * re;
          }
          y[i]! += sum;
        }
      }
      state[2 * ch] = Math.abs(ic1) < 1e-18 ? 0 : ic1;
      state[2 * ch + 1] = Math.abs(ic2) < 1e-18 ? 0 : ic2;
    }
  }
}
