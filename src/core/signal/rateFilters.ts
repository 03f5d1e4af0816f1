import { kaiser } from "./fractionalDelay";

// Filters by which signals go to a multiple of their rate and back, linear phase.

/**
 * Odd-phase taps of a half-band low-pass with 4n - 1 taps; the even phase is a single 0.5 in the middle.
 * Source  windowed sinc, Kaiser window; attenuation and width by Kaiser's formulas (any filter handbook).
 */
export function designHalfBand(pairs: number, beta: number): Float64Array {
  const taps = new Float64Array(pairs);
  let sum = 0;
  for (let i = 0; i < pairs; i++) {
    const t = 2 * i + 1; // distance from the centre at the doubled rate
    taps[i] = (Math.sin((Math.PI * t) / 2) / (Math.PI * t)) * kaiser(t / (2 * pairs), beta);
    sum += 2 * taps[i]!;
  }
  for (let i = 0; i < pairs; i++) taps[i]! *= 0.5 / sum;
  return taps;
}

/**
 * Convolves symmetric taps: tap k weighs x[mid + i + k] and x[mid + i - gap - k], so that the middle lies between two
 * values (gap 1) or on one (gap 2). Four outputs at a time, because their sums do not wait for each other and share the
 * taps. Writes y[i * stride] for i < frames.
 */
export function symmetric(
  taps: Float64Array,
  x: Float64Array,
  mid: number,
  gap: 1 | 2,
  y: Float64Array,
  stride: number,
  gain: number,
  frames: number,
): void {
  const n = taps.length;
  let i = 0;
  for (; i + 4 <= frames; i += 4) {
    let s0 = 0;
    let s1 = 0;
    let s2 = 0;
    let s3 = 0;
    let up = mid + i;
    let down = up - gap;
    for (let k = 0; k < n; k++) {
      const t = taps[k]!;
      s0 += t * (x[up]! + x[down]!);
      s1 += t * (x[up + 1]! + x[down + 1]!);
      s2 += t * (x[up + 2]! + x[down + 2]!);
      s3 += t * (x[up + 3]! + x[down + 3]!);
      up++;
      down--;
    }
    y[i * stride] = gain * s0;
    y[(i + 1) * stride] = gain * s1;
    y[(i + 2) * stride] = gain * s2;
    y[(i + 3) * stride] = gain * s3;
  }
  for (; i < frames; i++) {
    let sum = 0;
    for (let k = 0; k < n; k++) sum += taps[k]! * (x[mid + i + k]! + x[mid + i - gap - k]!);
    y[i * stride] = gain * sum;
  }
}

/** Doubles the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
export class Doubler {
  /** 2n - 1 frames of the past, then the block. */
  private readonly line: Float64Array;
  private readonly past: number;
  constructor(
    private readonly taps: Float64Array,
    maxFrames: number,
  ) {
    this.past = 2 * taps.length - 1;
    this.line = new Float64Array(this.past + maxFrames);
  }
  reset(): void {
    this.line.fill(0);
  }
  /** Reads `frames` of x, which may be the first half of y's length; writes 2 * frames. */
  process(x: Float32Array | Float64Array, y: Float64Array, frames: number): void {
    const { line, past, taps } = this;
    for (let i = 0; i < frames; i++) line[past + i] = x[i]!;
    const mid = taps.length;
    for (let i = 0; i < frames; i++) y[2 * i + 1] = line[mid + i]!;
    symmetric(taps, line, mid, 1, y, 2, 2, frames);
    line.copyWithin(0, frames, past + frames);
  }
}

/** Halves the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
export class Halver {
  private readonly odd: Float64Array;
  private readonly even: Float64Array;
  private readonly past: number;
  constructor(
    private readonly taps: Float64Array,
    maxFrames: number,
  ) {
    this.past = 2 * taps.length - 1;
    this.odd = new Float64Array(this.past + maxFrames);
    this.even = new Float64Array(this.past + maxFrames);
  }
  reset(): void {
    this.odd.fill(0);
    this.even.fill(0);
  }
  /** Reads 2 * frames of x, writes `frames` of y. */
  process(x: Float64Array, y: Float64Array, frames: number): void {
    const { taps, odd, even, past } = this;
    for (let i = 0; i < frames; i++) {
      even[past + i] = x[2 * i]!;
      odd[past + i] = x[2 * i + 1]!;
    }
    const mid = taps.length;
    symmetric(taps, even, mid, 1, y, 1, 1, frames);
    for (let i = 0; i < frames; i++) y[i] = y[i]! + 0.5 * odd[mid + i - 1]!;
    even.copyWithin(0, frames, past + frames);
    odd.copyWithin(0, frames, past + frames);
  }
}

/** Taps of a short low-pass of 4n + 1 taps, told by their distance from the middle. */
export interface ShortTaps {
  readonly middle: number;
  /** Distances 1, 3, 5 … */
  readonly odd: Float64Array;
  /** Distances 2, 4, 6 … */
  readonly even: Float64Array;
}

/**
 * Low-pass of 4 `pairs` + 1 taps that halves a rate: stopped from `stop` times the lower Nyquist frequency on, wider open than
 * a half-band of as many taps, since its corner need not lie in the middle.
 * Shape   sum of all taps 1.
 * Source  windowed sinc with Kaiser's window; width of the slope (A - 7.95) / (14.36 (taps - 1)) and beta 0.1102 (A - 8.7) for A dB
 *         (Kaiser 1974, in any filter handbook).
 */
export function designShort(pairs: number, attenuation: number, stop: number): ShortTaps {
  const reach = 2 * pairs;
  const slope = (attenuation - 7.95) / (14.36 * (2 * reach + 2)); // of the doubled rate
  const corner = stop / 4 - slope / 2;
  const beta = 0.1102 * (attenuation - 8.7);
  const tap = (t: number) =>
    (t === 0 ? 2 * corner : Math.sin(2 * Math.PI * corner * t) / (Math.PI * t)) *
    kaiser(t / (reach + 1), beta);
  const all = Float64Array.from({ length: reach + 1 }, (_, t) => tap(t));
  const sum = 2 * all.reduce((total, t) => total + t, 0) - all[0]!;
  const at = (first: number) => Float64Array.from({ length: pairs }, (_, i) => all[first + 2 * i]! / sum);
  return { middle: all[0]! / sum, odd: at(1), even: at(2) };
}

/** Halves the rate of one channel with a short filter. Latency 2n frames of the doubled rate. */
export class ShortHalver {
  private readonly odd: Float64Array;
  private readonly even: Float64Array;
  private readonly past: number;
  private readonly more: Float64Array;
  constructor(
    private readonly taps: ShortTaps,
    maxFrames: number,
  ) {
    this.past = 2 * taps.odd.length;
    this.odd = new Float64Array(this.past + maxFrames);
    this.even = new Float64Array(this.past + maxFrames);
    this.more = new Float64Array(maxFrames);
  }
  reset(): void {
    this.odd.fill(0);
    this.even.fill(0);
  }
  /** Reads 2 * frames of x, writes `frames` of y. */
  process(x: Float64Array, y: Float64Array, frames: number): void {
    const { taps, odd, even, past, more } = this;
    for (let i = 0; i < frames; i++) {
      even[past + i] = x[2 * i]!;
      odd[past + i] = x[2 * i + 1]!;
    }
    const middle = taps.odd.length;
    symmetric(taps.odd, odd, middle, 1, y, 1, 1, frames);
    symmetric(taps.even, even, middle + 1, 2, more, 1, 1, frames);
    for (let i = 0; i < frames; i++) y[i] = y[i]! + more[i]! + taps.middle * even[middle + i]!;
    even.copyWithin(0, frames, past + frames);
    odd.copyWithin(0, frames, past + frames);
  }
}
