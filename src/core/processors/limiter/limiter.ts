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
  lookahead: number("Look-ahead", "s", 0.0005, 0.005, 0.0015, "How long before a peak it begins to turn down.", "log"), // prettier-ignore
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

/**
 * Holds the true peak under a ceiling: the reduction that each peak needs is held over the look-ahead and averaged over as
 * many frames, so that it is whole when the peak comes. Under the ceiling the signal passes to the bit. Channels share one
 * gain. Latency  5 ms and 12 frames, whatever the look-ahead.
 * Source  true peak: ITU-R BS.1770-5, annex 2; hold and average of equal lengths: common practice.
 */
export class Limiter implements Processor<LimiterValues> {
  latency = 0;
  reductionDb = 0;
  private rate = 0;
  private readers: PeakReader[] = [];
  private lines: DelayLine[] = [];
  private held = new SlidingMax(1);
  private peaks = new Float64Array(0);
  private gains = new Float64Array(0);
  /** Reductions of the last frames, in grains; `at` is the next place. */
  private ring = new Float64Array(1);
  private at = 0;
  private sum = 0;
  private window = 1;
  private released = 0;
  private ceiling = 1;
  private drive = 1;
  private release = 0;
  private early = 0;
  private wait = new Float64Array(1);
  private waitAt = 0;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    const most = Math.ceil(longest * sampleRate);
    this.latency = most + interpolatorLate;
    this.readers = Array.from({ length: channels }, () => new PeakReader(maxFrames));
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.held = new SlidingMax(most + 3);
    this.peaks = new Float64Array(maxFrames);
    this.gains = new Float64Array(maxFrames);
    this.ring = new Float64Array(most + 2);
    this.wait = new Float64Array(most + 2);
  }
  set(v: LimiterValues): void {
    this.ceiling = dbToGain(v.ceiling);
    this.drive = dbToGain(v.input);
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
    for (const reader of this.readers) reader.reset();
    for (const line of this.lines) line.reset();
    this.held.reset();
    this.ring.fill(0);
    this.wait.fill(0);
    this.sum = 0;
    this.released = 0;
    this.at = 0;
    this.waitAt = 0;
    this.reductionDb = 0;
  }

  process(input: Planar, output: Planar, frames: number): void {
    const { peaks, gains } = this;
    peaks.fill(0, 0, frames);
    for (let ch = 0; ch < input.length; ch++)
      this.readers[ch]!.raise(input[ch]!, peaks, frames, this.ceiling / this.drive);
    this.findGains(frames);
    for (let ch = 0; ch < input.length; ch++) {
      const y = output[ch]!;
      this.lines[ch]!.process(input[ch]!, y, frames);
      for (let i = 0; i < frames; i++) y[i]! *= gains[i]!;
    }
  }

  /** Turns the peaks of a block into gains that are as late as the delayed signal. */
  private findGains(frames: number): void {
    const { ring, wait, gains, peaks, window, ceiling, drive, release } = this;
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
