import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { DelayLine } from "../../signal/delayLine";
import { fastDb, fastGain } from "../../signal/fastMath";
import { dbToGain } from "../../signal/level";
import { SlidingMax } from "../../signal/slidingMax";
import { halfTaps, peakBetween } from "../../signal/peakBetween";

/** Shorter than half a millisecond the gain would bend the wave and lift peaks anew: 0.2 ms stood 0.11 dB over. */
export const limiterParams = {
  ceiling: number("Ceiling", "dB", -24, 0, -1, "True peak that is not passed, dBTP."),
  lookahead: number(
    "Look-ahead",
    "s",
    0.0005,
    0.005,
    0.0015,
    "How long before a peak it begins to turn down.",
    "log",
  ),
  release: number("Release", "s", 0.005, 1, 0.06, "Time to give back 63 % of the reduction.", "log"),
  input: number("Input", "dB", -12, 24, 0, "Gain before it."),
} as const satisfies ParamTable;
export type LimiterValues = ParamValues<typeof limiterParams>;

const longest = limiterParams.lookahead.max;
/** Frames by which the interpolator of true peaks is late, and its length. */
const [interpolatorLate, interpolatorTaps] = [halfTaps, 2 * halfTaps];
/** Reductions are whole multiples of this, dB, so that running sums of them are exact and come back to zero. */
const grain = 2 ** -20;

/** True peak around each frame of one channel: of the frame and of the quarter frames up to the next one. */
class PeakReader {
  /** The past, then the block. */
  private readonly line: Float32Array;
  constructor(maxFrames: number) {
    this.line = new Float32Array(interpolatorTaps + maxFrames);
  }
  reset(): void {
    this.line.fill(0);
  }
  /** Raises `peaks` to what this channel has, `interpolatorLate` frames late; below a quarter of `worth` only frames count. */
  raise(x: Float32Array, peaks: Float64Array, frames: number, worth: number): void {
    const { line } = this;
    line.set(x.subarray(0, frames), interpolatorTaps);
    for (let i = 0; i < frames; i++) {
      const from = i + 1; // its last tap is the newest frame
      const a = Math.abs(line[from + halfTaps - 1]!);
      const b = Math.abs(line[from + halfTaps]!);
      let peak = Math.max(a, b);
      if (!(peak < 0.25 * worth)) peak = Math.max(peak, peakBetween(line, from));
      if (!(peak <= peaks[i]!)) peaks[i] = peak;
    }
    line.copyWithin(0, frames, frames + interpolatorTaps);
  }
}

/** Frames by which it is late, whatever the look-ahead. */
export const limiterLatency = (sampleRate: number): number =>
  Math.ceil(longest * sampleRate) + interpolatorLate;

/** The gains that hold a stream of peaks under the ceiling, of one mic or bus. */
export class LimiterGains {
  reductionDb = 0;
  private readonly held: SlidingMax;
  /** Reductions of the last frames, in grains; `at` is the next place. */
  private readonly ring: Float64Array;
  private readonly wait: Float64Array;
  private at = 0;
  private sum = 0;
  private window = 1;
  private released = 0;
  private ceiling = 1;
  private drive = 1;
  private release = 0;
  private early = 0;
  private waitAt = 0;
  /** Frames since the last peak over the ceiling. */
  private quiet = 0;

  constructor(private readonly rate: number) {
    const most = Math.ceil(longest * rate);
    this.held = new SlidingMax(most + 3);
    this.ring = new Float64Array(most + 2);
    this.wait = new Float64Array(most + 2);
  }
  /** Peak that reaches the ceiling, linear. */
  get worth(): number {
    return this.ceiling / this.drive;
  }
  set(v: LimiterValues): void {
    this.ceiling = dbToGain(v.ceiling);
    this.drive = dbToGain(v.input);
    this.quiet = 0;
    this.release = Math.exp(-1 / (v.release * this.rate));
    const window = Math.max(1, Math.round(v.lookahead * this.rate));
    this.early = Math.ceil(longest * this.rate) - window;
    if (window === this.window) return;
    this.window = window;
    this.sum = 0;
    const { length } = this.ring;
    for (let k = 1; k <= window; k++) this.sum += this.ring[(this.at - k + 2 * length) % length]!;
  }
  reset(): void {
    this.held.reset();
    this.ring.fill(0);
    this.wait.fill(0);
    this.sum = 0;
    this.released = 0;
    this.at = 0;
    this.waitAt = 0;
    this.quiet = 0;
    this.reductionDb = 0;
  }
  /** Nothing that it holds, and nothing of this block, asks for a reduction. */
  private isAtRest(peaks: Float64Array, frames: number): boolean {
    let most = 0;
    for (let i = 0; i < frames; i++) if (peaks[i]! > most) most = peaks[i]!;
    const passed = this.quiet > this.wait.length && this.released === 0 && this.sum === 0;
    this.quiet = most > this.worth ? 0 : this.quiet + frames;
    return passed && this.quiet > 0;
  }
  /** The same as `find` gives then, with less work. */
  private rest(peaks: Float64Array, gains: Float64Array, frames: number): void {
    const { wait } = this;
    for (let i = 0; i < frames; i++) {
      wait[this.waitAt] = peaks[i]!;
      this.waitAt = this.waitAt + 1 === wait.length ? 0 : this.waitAt + 1;
    }
    gains.fill(this.drive, 0, frames);
    this.reductionDb = 0;
  }
  /** Gains, linear, as late as the delayed signal, of peaks that are `interpolatorLate` late. Shapes: one a frame. */
  find(peaks: Float64Array, gains: Float64Array, frames: number): void {
    if (this.isAtRest(peaks, frames)) return this.rest(peaks, gains, frames);
    const { ring, wait, window, ceiling, drive, release } = this;
    const { length } = ring;
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      // A shorter look-ahead waits for the rest of the latency.
      wait[this.waitAt] = peaks[i]!;
      const peak = drive * wait[(this.waitAt - this.early + length) % length]!;
      this.waitAt = (this.waitAt + 1) % length;
      const needed = peak > ceiling ? Math.ceil(fastDb(peak / ceiling) / grain + 1000) : 0;
      // A peak lies between its frame and the next one: it is held until that one is out, too.
      const most = this.held.next(needed, window + 2);
      this.released = Math.max(most, Math.floor(this.released * release));
      const old = ring[(this.at - window + length) % length]!;
      ring[this.at] = this.released;
      this.at = (this.at + 1) % length;
      this.sum += this.released - old;
      const reduction = (this.sum / window) * grain;
      if (reduction > deepest) deepest = reduction;
      gains[i] = reduction === 0 ? drive : drive * fastGain(-reduction);
    }
    this.reductionDb = deepest;
  }
}

/**
 * Holds the true peak under a ceiling: the reduction that each peak needs is held over the look-ahead and averaged over as
 * many frames, so that it is whole when the peak comes. Under the ceiling the signal passes to the bit. Channels share one
 * gain. Latency  5 ms and 12 frames, whatever the look-ahead.
 * Source  true peak: ITU-R BS.1770-5, annex 2; hold and average of equal lengths: common practice.
 */
export class Limiter implements Processor<LimiterValues> {
  latency = 0;
  private readers: PeakReader[] = [];
  private lines: DelayLine[] = [];
  private limit!: LimiterGains;
  private peaks = new Float64Array(0);
  private gains = new Float64Array(0);

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.latency = limiterLatency(sampleRate);
    this.readers = Array.from({ length: channels }, () => new PeakReader(maxFrames));
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.limit = new LimiterGains(sampleRate);
    this.peaks = new Float64Array(maxFrames);
    this.gains = new Float64Array(maxFrames);
  }
  get reductionDb(): number {
    return this.limit.reductionDb;
  }
  set(v: LimiterValues): void {
    this.limit.set(v);
  }
  reset(): void {
    for (const one of [...this.readers, ...this.lines, this.limit]) one.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { peaks, gains, limit } = this;
    peaks.fill(0, 0, frames);
    for (let ch = 0; ch < input.length; ch++) this.readers[ch]!.raise(input[ch]!, peaks, frames, limit.worth);
    limit.find(peaks, gains, frames);
    for (let ch = 0; ch < input.length; ch++) {
      const y = output[ch]!;
      this.lines[ch]!.process(input[ch]!, y, frames);
      for (let i = 0; i < frames; i++) y[i]! *= gains[i]!;
    }
  }
}
