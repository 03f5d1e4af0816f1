import { halfTaps, peakBetween } from "../signal/peakBetween";
import { designKWeighting } from "../measure/kWeighting";
import { Cascade } from "../signal/biquad";
import { powerToDb } from "../signal/level";

const offset = -0.691; // ITU-R BS.1770-5, annex 1, eq. 2
/** Time in which the correlation forgets, s. */
const correlationSeconds = 0.3;

/** Running mean square over a window of whole blocks. */
class Window {
  private readonly powers: Float64Array;
  private at = 0;
  private filled = 0;
  private sum = 0;
  constructor(blocks: number) {
    this.powers = new Float64Array(Math.max(1, blocks));
  }
  add(power: number): void {
    this.sum += power - this.powers[this.at]!;
    this.powers[this.at] = power;
    this.at = (this.at + 1) % this.powers.length;
    if (this.filled < this.powers.length) this.filled++;
    // Differences of large sums would pile up their rounding; once round, the sum is made anew.
    if (this.at === 0) this.sum = this.powers.reduce((a, b) => a + b, 0);
  }
  get lufs(): number {
    return powerToDb(Math.max(0, this.sum) / Math.max(1, this.filled)) + offset;
  }
  reset(): void {
    this.powers.fill(0);
    this.filled = 0;
    this.sum = 0;
  }
}

/**
 * Meters of the kit: momentary (400 ms) and short-term (3 s) loudness, true peak, correlation. Allocates only when made.
 * Source  EBU Tech 3341 for the windows, ITU-R BS.1770-5, annex 2 for the true peak.
 */
export class KitMeters {
  private readonly filters: Cascade[];
  private readonly scratch: Float32Array;
  private readonly lines: Float32Array[];
  private readonly momentaryWindow: Window;
  private readonly shortWindow: Window;
  private readonly forget: number;
  private ab = 0;
  private aa = 0;
  private bb = 0;
  /** Largest true peak since the last `takePeak`, linear. */
  private peak = 0;

  constructor(
    sampleRate: number,
    private readonly frames: number,
  ) {
    this.filters = [0, 1].map(() => {
      const cascade = new Cascade(2);
      cascade.set(designKWeighting(sampleRate));
      return cascade;
    });
    this.scratch = new Float32Array(frames);
    this.lines = [0, 1].map(() => new Float32Array(frames + 2 * halfTaps));
    this.momentaryWindow = new Window(Math.round((0.4 * sampleRate) / frames));
    this.shortWindow = new Window(Math.round((3 * sampleRate) / frames));
    this.forget = Math.exp(-frames / (correlationSeconds * sampleRate));
  }
  reset(): void {
    for (const filter of this.filters) filter.reset();
    for (const line of this.lines) line.fill(0);
    this.momentaryWindow.reset();
    this.shortWindow.reset();
    this.ab = this.aa = this.bb = 0;
    this.peak = 0;
  }
  /** Takes one block of two channels. */
  add(x: readonly Float32Array[]): void {
    const { frames, scratch } = this;
    let power = 0;
    for (let ch = 0; ch < 2; ch++) {
      this.filters[ch]!.process(x[ch]!, scratch, frames);
      for (let i = 0; i < frames; i++) power += scratch[i]! * scratch[i]!;
      this.follow(x[ch]!, this.lines[ch]!);
    }
    this.momentaryWindow.add(power / frames);
    this.shortWindow.add(power / frames);
    const [left, right] = x as [Float32Array, Float32Array];
    let ab = 0;
    let aa = 0;
    let bb = 0;
    for (let i = 0; i < frames; i++) {
      ab += left[i]! * right[i]!;
      aa += left[i]! * left[i]!;
      bb += right[i]! * right[i]!;
    }
    this.ab = ab + this.forget * this.ab;
    this.aa = aa + this.forget * this.aa;
    this.bb = bb + this.forget * this.bb;
  }
  private follow(x: Float32Array, line: Float32Array): void {
    const { frames } = this;
    const taps = 2 * halfTaps;
    line.copyWithin(0, frames, frames + taps);
    line.set(x, taps);
    let { peak } = this;
    for (let i = 0; i < frames; i++) {
      const a = Math.abs(x[i]!);
      if (a > peak) peak = a;
    }
    // Only beside large frames can a larger value lie between frames; see measure/truePeak.ts.
    const worth = 0.5 * peak;
    for (let i = 0; i < frames; i++) {
      if (Math.abs(line[i + halfTaps - 1]!) < worth && Math.abs(line[i + halfTaps]!) < worth) continue;
      peak = Math.max(peak, peakBetween(line, i));
    }
    this.peak = peak;
  }

  get momentary(): number {
    return this.momentaryWindow.lufs;
  }
  get shortTerm(): number {
    return this.shortWindow.lufs;
  }
  /** -1..1; 0 in silence. */
  get correlation(): number {
    const power = this.aa * this.bb;
    return power > 1e-20 ? this.ab / Math.sqrt(power) : 0;
  }
  takePeak(): number {
    const { peak } = this;
    this.peak = 0;
    return peak;
  }
}
