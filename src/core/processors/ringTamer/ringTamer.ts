import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade, designBandPass } from "../../signal/biquad";
import { HitCursor } from "../../signal/hitCursor";
import { MovingFilter } from "../../signal/movingFilter";
import { SlidingMax } from "../../signal/slidingMax";

export const ringTamerParams = {
  frequency: number("Ring", "Hz", 40, 12000, 400, "Frequency of the partial that rings.", "log"),
  found: number("Rings for", "s", 0.05, 5, 0.8, "Time in which it dies by 60 dB as it is (T60).", "log"),
  wanted: number("Let it ring for", "s", 0.03, 5, 0.3, "Time in which it should die by 60 dB.", "log"),
  depth: number("Most cut", "dB", 0, 48, 30, "The cut never goes deeper."),
  width: number("Width", "Q", 2, 60, 12, "How narrow the cut is.", "log"),
  opens: choice(
    "A stroke begins",
    ["level", "hits"],
    "Where the level rises, or at the strokes that were found.",
  ),
} as const satisfies ParamTable;
export type RingTamerValues = ParamValues<typeof ringTamerParams>;

/** Sharpness of the filter that listens for the ring. */
const detectorQ = 8;
/** The ring is heard once its band is less than this under everything, dB as a ratio. */
const standsOut = 10 ** (-12 / 20);
/** Below this amplitude nothing rings. */
const silent = 1e-5;
/** Time in which peaks are held, s: half a period of 42 Hz. */
const holdSeconds = 0.012;
/** Time constant with which the level that a stroke rises over follows, s, and how far it rises, as a ratio. */
const followSeconds = 0.02;
const rises = 2;
/** Time constants with which the cut is given back at a stroke, and when nothing rings any more, s. */
const [atStroke, atRest] = [0.001, 0.05];

/**
 * Gain of the bell by which a partial that decays is turned down by `cutDb`: such a partial lies off the axis on which gains
 * are told, nearer to the zeros of a narrow bell, so that the same bell takes more off it than off a steady tone.
 * Shape   dB, at most 0; `decay`: 1/s (ln 1000 / T60); `half`: half the bell's bandwidth at rest, pi f / Q, 1/s.
 * Source  derived here from the bell's transfer function (s^2 + s A / Q + 1) / (s^2 + s / (A Q) + 1) beside its resonance.
 */
export function bellFor(cutDb: number, decay: number, half: number): number {
  const gain = 10 ** (-cutDb / 20);
  const off = decay * (1 - gain);
  const a = (off + Math.sqrt(off * off + 4 * gain * half * half)) / (2 * half);
  return Math.min(0, 40 * Math.log10(a));
}

/**
 * Lets one partial die faster: from where it stands out behind a stroke on, a narrow cut deepens steadily, by what the decay
 * that is wanted falls faster than the one that was found, and goes with the next stroke or when the ring is gone. So
 * attacks are left alone, and strokes of any level are treated alike. Channels share one cut. Latency 0.
 * Source  two exponential decays in a row add their slopes in dB, 60 / T60 each (definition of T60, ISO 3382-1).
 */
export class RingTamer implements Processor<RingTamerValues> {
  readonly latency = 0;
  reductionDb = 0;
  private rate = 0;
  private v!: RingTamerValues;
  private readonly filter = new MovingFilter();
  private listeners: Cascade[] = [];
  private bands: Float32Array[] = [];
  private hold = 1;
  private whole = new SlidingMax(1);
  private ring = new SlidingMax(1);
  private readonly cursor = new HitCursor();
  private slow = 0;
  private cut = 0;
  /** dB that the cut gains in a frame. */
  private step = 0;
  private follow = 0;
  /** Of the ring as it was found, 1/s; half the bell's bandwidth, 1/s; the cut for which the bell stands. */
  private decay = 0;
  private half = 1;
  private told = NaN;
  private readonly back = { stroke: 0, rest: 0 };

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.listeners = Array.from({ length: channels }, () => new Cascade(1));
    this.bands = Array.from({ length: channels }, () => new Float32Array(maxFrames));
    this.hold = Math.ceil(holdSeconds * sampleRate);
    this.whole = new SlidingMax(this.hold);
    this.ring = new SlidingMax(this.hold);
    this.follow = Math.exp(-1 / (followSeconds * sampleRate));
    this.back.stroke = Math.exp(-1 / (atStroke * sampleRate));
    this.back.rest = Math.exp(-1 / (atRest * sampleRate));
  }
  set(v: RingTamerValues): void {
    this.v = v;
    const f = Math.min(v.frequency, 0.45 * this.rate);
    this.filter.set("bell", Math.tan((Math.PI * f) / this.rate), 1 / v.width);
    for (const listener of this.listeners) listener.set([designBandPass(f, detectorQ, this.rate)]);
    this.decay = Math.log(1000) / v.found;
    this.half = (Math.PI * f) / v.width;
    this.told = NaN;
    this.step = Math.max(0, 60 / v.wanted - 60 / v.found) / this.rate;
  }
  reset(): void {
    for (const one of [this.filter, this.whole, this.ring, ...this.listeners]) one.reset();
    this.slow = 0;
    this.cut = 0;
    this.reductionDb = 0;
  }
  adopt(from: Processor<RingTamerValues>): void {
    if (!(from instanceof RingTamer)) return;
    this.slow = from.slow;
    this.cut = from.cut;
  }

  /** True in the frame in which a stroke begins. */
  private begins(whole: number, { hits, position }: ProcessContext, i: number): boolean {
    if (this.v.opens === "hits") return position + i - this.cursor.latest(hits, position + i) < 1;
    const rose = whole > rises * this.slow;
    this.slow = whole + this.follow * (this.slow - whole);
    return rose;
  }
  process(input: Planar, output: Planar, frames: number, context: ProcessContext): void {
    const { bands, v, filter } = this;
    for (let ch = 0; ch < input.length; ch++) this.listeners[ch]!.process(input[ch]!, bands[ch]!, frames);
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      let [all, band] = [0, 0];
      for (let ch = 0; ch < input.length; ch++) {
        all = Math.max(all, Math.abs(input[ch]![i]!));
        band = Math.max(band, Math.abs(bands[ch]![i]!));
      }
      const whole = this.whole.next(all, this.hold);
      const ring = this.ring.next(band, this.hold);
      if (this.begins(whole, context, i)) this.cut *= this.back.stroke;
      else if (ring > silent && ring > standsOut * whole) this.cut = Math.min(v.depth, this.cut + this.step);
      else this.cut *= this.back.rest;
      if (this.cut < 1e-3) this.cut = 0;
      if (this.cut > deepest) deepest = this.cut;
      if (this.cut !== this.told) {
        this.told = this.cut;
        filter.moveTo(bellFor(this.cut, this.decay, this.half));
      }
      for (let ch = 0; ch < input.length; ch++) output[ch]![i] = filter.run(input[ch]![i]!, ch);
    }
    this.reductionDb = deepest;
  }
}
