import { RealFft, type Spectrum } from "./fft";

/** Taps that are convolved directly, so that nothing is late. */
const headTaps = 128;
/** Sizes of the parts behind the head: each begins as far into the response as it is long. */
const sizes = [128, 1024, 4096] as const;

/** Parts of equal size of one channel of a response. */
export interface PartLevel {
  readonly size: number;
  /** Spectra of twice the size, the earliest part first. */
  readonly parts: readonly Spectrum[];
}
/** One channel of an impulse response, ready to be convolved with. */
export interface PartitionedChannel {
  readonly head: Float64Array;
  readonly levels: readonly PartLevel[];
}
export interface PartitionedResponse {
  readonly frames: number;
  readonly channels: readonly PartitionedChannel[];
}

/** Where the parts of a size begin and end in a response, frames. */
function spanOf(level: number, frames: number): [from: number, to: number] {
  return [sizes[level]!, Math.min(frames, sizes[level + 1] ?? frames)];
}

function partitionChannel(x: Float32Array): PartitionedChannel {
  const head = new Float64Array(headTaps);
  head.set(x.subarray(0, headTaps));
  const levels = sizes.map((size, level): PartLevel => {
    const [from, to] = spanOf(level, x.length);
    const fft = RealFft.of(2 * size);
    const parts: Spectrum[] = [];
    for (let at = from; at < to; at += size) {
      const spectrum = fft.spectrum();
      fft.forward(x.subarray(at, Math.min(to, at + size)), 0, size, spectrum);
      parts.push(spectrum);
    }
    return { size, parts };
  });
  return { head, levels: levels.filter((l) => l.parts.length > 0) };
}

/**
 * Cuts an impulse response into a head, which is convolved tap by tap, and parts whose spectra are multiplied; the further behind, the
 * longer they are.
 * Shape   one or two channels of the same length.
 * Source  non-uniform partitions: Gardner, J. Audio Eng. Soc. 43(3), 1995.
 */
export const partitionResponse = (channels: readonly Float32Array[]): PartitionedResponse => ({
  frames: channels[0]?.length ?? 0,
  channels: channels.map(partitionChannel),
});

/** The past of the input as spectra, and what one level of parts adds to the frames to come. */
class LevelState {
  private readonly fft: RealFft;
  private readonly window: Float64Array;
  private readonly past: Spectrum[];
  private readonly sum: Spectrum;
  private readonly back: Float64Array;
  private newest = 0;
  private filled = 0;

  constructor(private readonly level: PartLevel) {
    this.fft = RealFft.of(2 * level.size);
    this.window = new Float64Array(2 * level.size);
    this.past = level.parts.map(() => this.fft.spectrum());
    this.sum = this.fft.spectrum();
    this.back = new Float64Array(2 * level.size);
  }
  reset(): void {
    this.window.fill(0);
    for (const { re, im } of this.past) {
      re.fill(0);
      im.fill(0);
    }
    this.newest = 0;
    this.filled = 0;
  }
  /** Takes one frame; when a block is full, adds its answer to `ring` from `at` on. */
  take(x: number, ring: Float64Array, at: number): void {
    const { size } = this.level;
    this.window[size + this.filled] = x;
    if (++this.filled < size) return;
    this.filled = 0;
    this.answer(ring, at);
    this.window.copyWithin(0, size);
  }
  /** Overlap-save: the second half of the transform is the block's answer. */
  private answer(ring: Float64Array, at: number): void {
    const { past, sum, back, fft } = this;
    const { size, parts } = this.level;
    this.newest = (this.newest + past.length - 1) % past.length;
    fft.forward(this.window, 0, 2 * size, past[this.newest]!);
    sum.re.fill(0);
    sum.im.fill(0);
    for (let p = 0; p < parts.length; p++) {
      const a = past[(this.newest + p) % past.length]!;
      const b = parts[p]!;
      for (let k = 0; k <= size; k++) {
        sum.re[k]! += a.re[k]! * b.re[k]! - a.im[k]! * b.im[k]!;
        sum.im[k]! += a.re[k]! * b.im[k]! + a.im[k]! * b.re[k]!;
      }
    }
    fft.inverse(sum, back);
    const mask = ring.length - 1;
    for (let i = 0; i < size; i++) ring[(at + i) & mask]! += back[size + i]!;
  }
}

/** Convolves one channel with a response, nothing late. */
export class Convolver {
  private readonly levels: LevelState[];
  /** Answers of the parts, frames to come. */
  private readonly ring = new Float64Array(2 * sizes[sizes.length - 1]!);
  /** The last frames, each twice, so that any window of the head is in one piece. */
  private readonly line = new Float64Array(2 * headTaps);
  private at = 0;
  private lineAt = 0;

  constructor(private readonly response: PartitionedChannel) {
    this.levels = response.levels.map((l) => new LevelState(l));
  }
  reset(): void {
    for (const level of this.levels) level.reset();
    this.ring.fill(0);
    this.line.fill(0);
    this.at = 0;
    this.lineAt = 0;
  }
  process(x: Float32Array, y: Float64Array, frames: number): void {
    const { ring, line, levels } = this;
    const { head } = this.response;
    const mask = ring.length - 1;
    for (let i = 0; i < frames; i++) {
      const v = x[i]!;
      this.lineAt = (this.lineAt + headTaps - 1) % headTaps;
      line[this.lineAt] = v;
      line[this.lineAt + headTaps] = v;
      let sum = ring[this.at]!;
      ring[this.at] = 0;
      for (let t = 0; t < headTaps; t++) sum += head[t]! * line[this.lineAt + t]!;
      y[i] = sum;
      this.at = (this.at + 1) & mask;
      for (let l = 0; l < levels.length; l++) levels[l]!.take(v, ring, this.at);
    }
  }
}
