import { kaiser } from "./fractionalDelay";

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
 * Convolves the symmetric taps around the middles `mid`, `mid + 1` … of a buffer; four outputs at a time, because their
 * sums do not wait for each other and share the taps. Writes y[i * stride] for i < frames.
 */
function symmetric(
  taps: Float64Array,
  x: Float64Array,
  mid: number,
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
    let down = up - 1;
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
    for (let k = 0; k < n; k++) sum += taps[k]! * (x[mid + i + k]! + x[mid + i - 1 - k]!);
    y[i * stride] = gain * sum;
  }
}

/** Doubles the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
class Doubler {
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
    symmetric(taps, line, mid, y, 2, 2, frames);
    line.copyWithin(0, frames, past + frames);
  }
}

/** Halves the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
class Halver {
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
    symmetric(taps, even, mid, y, 1, 1, frames);
    for (let i = 0; i < frames; i++) y[i] = y[i]! + 0.5 * odd[mid + i - 1]!;
    even.copyWithin(0, frames, past + frames);
    odd.copyWithin(0, frames, past + frames);
  }
}

const upPairs = 24; // 95 taps: images of what lies below 20 kHz are 80 dB down
const downPairs = 64; // 255 taps: 80 dB down from 1.04 times the Nyquist frequency on
const widePairs = 6; // 23 taps: the octave above is far away

/** Taps of the three half-band filters. */
export const halfBands = {
  up: designHalfBand(upPairs, 8),
  wide: designHalfBand(widePairs, 8),
  down: designHalfBand(downPairs, 8),
} as const;

/**
 * Four times the rate and back, linear phase. Between the two calls the caller bends the signal.
 * Latency `Oversampler.latency` frames, whole by a one-frame delay at twice the rate.
 */
export class Oversampler {
  /** (2 up - 1 + 2 down - 1) / 2 frames for the steep pair, (4 * 6 - 2) / 4 + 0.5 for the wide one. */
  static readonly latency = upPairs + downPairs - 1 + (2 * (2 * widePairs - 1)) / 4 + 0.5;
  private readonly twice: Float64Array;
  private readonly once: Float64Array;
  readonly fast: Float64Array; // four times the frames, to be changed in place
  private readonly upSteep: Doubler;
  private readonly upWide: Doubler;
  private readonly downWide: Halver;
  private readonly downSteep: Halver;
  private held = 0;

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
    for (const stage of [this.upSteep, this.upWide, this.downWide, this.downSteep]) stage.reset();
    this.held = 0;
  }
  up(x: Float32Array, frames: number): void {
    this.upSteep.process(x, this.twice, frames);
    this.upWide.process(this.twice, this.fast, 2 * frames);
  }
  down(y: Float32Array, frames: number): void {
    const { twice, once } = this;
    this.downWide.process(this.fast, twice, 2 * frames);
    let held = this.held;
    for (let i = 0; i < 2 * frames; i++) {
      const v = twice[i]!;
      twice[i] = held;
      held = v;
    }
    this.held = held;
    this.downSteep.process(twice, once, frames);
    for (let i = 0; i < frames; i++) y[i] = once[i]!;
  }
}
