import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { DelayLine } from "../../signal/delayLine";
import { dbToGain, gainToDb } from "../../signal/level";
import { halfBands, Oversampler } from "../../signal/oversampler";
import { RecentFrames } from "../../signal/recentFrames";
import { SmoothedCurve, type Curve } from "../../signal/smoothedCurve";

export const clipperParams = {
  input: number("Input", "dB", -12, 36, 0, "Gain before it: how far peaks are pushed into the ceiling."),
  ceiling: number("Ceiling", "dB", -40, 0, -6, "Level at which peaks are cut, dBFS."),
  knee: number("Knee", "%", 0, 100, 20, "0 cuts hard; more rounds the corner, down to zero level at 100."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the clipped signal."),
  output: number("Output", "dB", -24, 24, 0, "Gain after it."),
} as const satisfies ParamTable;
export type ClipperValues = ParamValues<typeof clipperParams>;

/**
 * What a clipper takes away from a signal against its ceiling (1): nothing up to 1 - k, from 1 + k on all beyond 1, and a
 * parabola between, so that the curve bends without a kink in slope. Its first and second integral go with it.
 * Range   k in 0..1. Source: the soft knee of Giannoulis, Massberg, Reiss 2012, eq. 4, with an infinite ratio, in
 *         amplitude instead of dB.
 */
export function excess(k: number): Curve {
  const begin = 1 - k;
  const signed = (x: number, value: number) => (x < 0 ? -value : value);
  return {
    begin,
    value(x) {
      const u = Math.abs(x);
      if (u <= begin) return 0;
      return signed(x, u >= 1 + k ? u - 1 : (u - begin) ** 2 / (4 * k));
    },
    second(x) {
      const u = Math.abs(x);
      if (u <= begin) return 0;
      return signed(x, u >= 1 + k ? (u - 1) ** 3 / 6 + (k * k * (u - 1)) / 6 : (u - begin) ** 4 / (48 * k));
    },
    first(x) {
      const u = Math.abs(x);
      if (u <= begin) return 0;
      return u >= 1 + k ? (u - 1) ** 2 / 2 + (k * k) / 6 : (u - begin) ** 3 / (12 * k);
    },
  };
}

/** What the parameters come to; gains are linear. */
export function designClipper(v: ClipperValues) {
  const wet = v.mix / 100;
  const out = dbToGain(v.output);
  const ceiling = dbToGain(v.ceiling);
  return {
    curve: excess(v.knee / 100),
    knee: v.knee / 100,
    drive: dbToGain(v.input) / ceiling,
    straight: out * (1 - wet + wet * dbToGain(v.input)),
    cut: out * wet * ceiling,
  };
}
export type ClipperDesign = ReturnType<typeof designClipper>;

/** By how much the largest sample against the ceiling was lowered, dB. */
export const reductionOf = (most: number, curve: Curve): number =>
  most === 0 ? 0 : gainToDb(most / (most - curve.value(most)));

export const clipperLatency = Oversampler.latency + 1;

/** Frames of the fast rate that bring the smoothed curve's one to a whole frame of the song. */
const pad = 3;

/** Frames of the past that the filters on the way up hold. */
export const pastFrames = 64;
/** By how much the oversampled signal can stand over the largest frame: the sums of the taps' amounts. */
const sumOf = (taps: Float64Array): number => 4 * taps.reduce((sum, t) => sum + Math.abs(t), 0);
export const overshoot = Math.max(1, sumOf(halfBands.up)) * Math.max(1, sumOf(halfBands.wide));

const largest = (x: Float32Array, frames: number): number => {
  let most = 0;
  for (let i = 0; i < frames; i++) {
    const v = Math.abs(x[i]!);
    if (v > most) most = v;
  }
  return most;
};

/** The way of one channel: what is taken away, at the song's rate. It sleeps while nothing can be over the ceiling. */
class Path {
  private readonly sampler: Oversampler;
  private readonly curve = new SmoothedCurve();
  private readonly late = new Float64Array(pad);
  private readonly past = new RecentFrames(pastFrames);
  /** Frames for which the filters behind the curve still hold something. */
  private ringing = 0;
  private asleep = true;

  constructor(private readonly maxFrames: number) {
    this.sampler = new Oversampler(maxFrames);
  }
  reset(): void {
    this.sampler.reset();
    this.curve.reset();
    this.late.fill(0);
    this.past.reset();
    this.ringing = 0;
    this.asleep = true;
  }
  /**
   * Writes what lies over the ceiling into y; returns the largest fast sample against the ceiling, or 0: nothing was over.
   * Whether it sleeps changes no bit: then all it would have computed is zero.
   */
  process(x: Float32Array, y: Float32Array, frames: number, gain: number, curve: Curve): number {
    const near = Math.max(largest(x, frames), largest(this.past.frames, pastFrames));
    if (this.ringing === 0 && gain * near * overshoot <= curve.begin) {
      this.asleep = true;
      this.past.take(x, frames);
      y.fill(0, 0, frames);
      return 0;
    }
    if (this.asleep) this.wake(gain, curve);
    this.past.take(x, frames);
    const { sampler } = this;
    sampler.up(x, frames);
    const most = this.takeOver(4 * frames, gain, curve);
    // Filters that hold nothing give nothing: the long one runs only while something is cut.
    if (most > 0) this.ringing = Oversampler.latency * 2 + frames;
    if (this.ringing > 0) sampler.down(y, frames);
    else y.fill(0, 0, frames);
    this.ringing = Math.max(0, this.ringing - frames);
    return most;
  }

  /** Turns the fast samples into what of them lies over the ceiling, `pad` of them later. */
  private takeOver(count: number, gain: number, curve: Curve): number {
    const { late } = this;
    const { fast } = this.sampler;
    let most = 0;
    for (let i = 0; i < count; i++) {
      const v = gain * fast[i]!;
      const over = this.curve.next(v, curve);
      if (over !== 0 && Math.abs(v) > most) most = Math.abs(v);
      fast[i] = late[0]!;
      late[0] = late[1]!;
      late[1] = late[2]!;
      late[2] = over;
    }
    return most;
  }
  /** The filters on the way up as if they had never slept. */
  private wake(gain: number, curve: Curve): void {
    const { sampler, past, maxFrames } = this;
    this.asleep = false;
    this.curve.reset();
    for (let at = 0; at < pastFrames; at += maxFrames) {
      const n = Math.min(maxFrames, pastFrames - at);
      sampler.up(past.frames.subarray(at, at + n), n);
      for (let i = 4 * n - 2; i < 4 * n; i++) this.curve.next(gain * sampler.fast[i]!, curve);
    }
  }
}

/**
 * Cuts peaks at a ceiling, four times oversampled, its corner smoothed against aliases. What is cut is computed and taken
 * away from the signal itself, so that everything under the knee passes untouched, to the bit. The band-limited result may
 * stand a few tenths of a dB over the ceiling between corners; a limiter behind it holds an absolute one.
 * Latency  `clipperLatency`; both parts of the mix are late by the same.
 */
export class Clipper implements Processor<ClipperValues> {
  readonly latency = clipperLatency;
  reductionDb = 0;
  private paths: Path[] = [];
  private lines: DelayLine[] = [];
  private dry = new Float32Array(0);
  private over = new Float32Array(0);
  private design!: ClipperDesign;

  prepare({ channels, maxFrames }: StreamFormat): void {
    this.paths = Array.from({ length: channels }, () => new Path(maxFrames));
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.dry = new Float32Array(maxFrames);
    this.over = new Float32Array(maxFrames);
  }
  set(v: ClipperValues): void {
    this.design = designClipper(v);
  }
  reset(): void {
    for (const path of this.paths) path.reset();
    for (const line of this.lines) line.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { dry, over } = this;
    const { straight, cut, drive, curve } = this.design;
    let most = 0;
    for (let ch = 0; ch < input.length; ch++) {
      most = Math.max(most, this.paths[ch]!.process(input[ch]!, over, frames, drive, curve));
      this.lines[ch]!.process(input[ch]!, dry, frames);
      const y = output[ch]!;
      for (let i = 0; i < frames; i++) y[i] = straight * dry[i]! - cut * over[i]!;
    }
    this.reductionDb = reductionOf(most, curve);
  }
}
