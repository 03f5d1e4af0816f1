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

/** Doubles the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
class Doubler {
  private readonly history: Float64Array; // twice the length, so that a window is always contiguous
  private at = 0;
  constructor(private readonly taps: Float64Array) {
    this.history = new Float64Array(4 * taps.length);
  }
  reset(): void {
    this.history.fill(0);
    this.at = 0;
  }
  process(x: Float32Array | Float64Array, y: Float64Array, frames: number): void {
    const { taps, history } = this;
    const n = taps.length;
    const size = 2 * n;
    let at = this.at;
    for (let i = 0; i < frames; i++) {
      history[at] = history[at + size] = x[i]!;
      if (++at === size) at = 0;
      // Window at..at+size-1, oldest first; the pair centre lies between n - 1 and n.
      const mid = at + n;
      let sum = 0;
      for (let k = 0; k < n; k++) sum += taps[k]! * (history[mid + k]! + history[mid - 1 - k]!);
      y[2 * i] = 2 * sum;
      y[2 * i + 1] = history[mid]!;
    }
    this.at = at;
  }
}

/** Halves the rate of one channel. Latency 2n - 1 frames of the doubled rate. */
class Halver {
  private readonly odd: Float64Array;
  private readonly even: Float64Array;
  private at = 0;
  constructor(private readonly taps: Float64Array) {
    this.odd = new Float64Array(4 * taps.length);
    this.even = new Float64Array(4 * taps.length);
  }
  reset(): void {
    this.odd.fill(0);
    this.even.fill(0);
    this.at = 0;
  }
  process(x: Float64Array, y: Float32Array | Float64Array, frames: number): void {
    const { taps, odd, even } = this;
    const n = taps.length;
    const size = 2 * n;
    let at = this.at;
    for (let i = 0; i < frames; i++) {
      even[at] = even[at + size] = x[2 * i]!;
      odd[at] = odd[at + size] = x[2 * i + 1]!;
      if (++at === size) at = 0;
      const mid = at + n;
      let sum = 0;
      for (let k = 0; k < n; k++) sum += taps[k]! * (even[mid + k]! + even[mid - 1 - k]!);
      y[i] = sum + 0.5 * odd[mid - 1]!;
    }
    this.at = at;
  }
}

const steepPairs = 64; // 255 taps: 80 dB down from 1.04 times the Nyquist frequency on
const widePairs = 6; // 23 taps: the octave above is far away

/**
 * Four times the rate and back, linear phase. Between the two calls the caller bends the signal.
 * Latency `Oversampler.latency` frames, whole by a one-frame delay at twice the rate.
 */
export class Oversampler {
  /** (4 * 64 - 2) / 2 frames for the steep pair, (4 * 6 - 2) / 4 + 0.5 for the wide one. */
  static readonly latency = (2 * (2 * steepPairs - 1)) / 2 + (2 * (2 * widePairs - 1)) / 4 + 0.5;
  private readonly twice: Float64Array;
  readonly fast: Float64Array; // four times the frames, to be changed in place
  private readonly upSteep = new Doubler(designHalfBand(steepPairs, 8));
  private readonly upWide = new Doubler(designHalfBand(widePairs, 8));
  private readonly downWide = new Halver(designHalfBand(widePairs, 8));
  private readonly downSteep = new Halver(designHalfBand(steepPairs, 8));
  private held = 0;

  constructor(maxFrames: number) {
    this.twice = new Float64Array(2 * maxFrames);
    this.fast = new Float64Array(4 * maxFrames);
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
    const { twice } = this;
    this.downWide.process(this.fast, twice, 2 * frames);
    let held = this.held;
    for (let i = 0; i < 2 * frames; i++) {
      const v = twice[i]!;
      twice[i] = held;
      held = v;
    }
    this.held = held;
    this.downSteep.process(twice, y, frames);
  }
}
