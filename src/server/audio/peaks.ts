/** Frames behind one pair of lowest and highest sample, from fine to coarse; each a multiple of the one before. */
export const peakLevels = [256, 4096] as const;
const [fineFrames, coarseFrames] = peakLevels;
const finePerCoarse = coarseFrames / fineFrames;

/** Pairs of one channel: the finest is gathered, the coarse one is taken from it at the end. */
class ChannelPeaks {
  readonly pairs: number[] = [];
  private low = 0;
  private high = 0;
  private inPair = 0;

  add(x: Float32Array, frames: number): void {
    let { low, high, inPair } = this;
    for (let i = 0; i < frames;) {
      const end = Math.min(frames, i + fineFrames - inPair);
      inPair += end - i;
      for (; i < end; i++) {
        const v = x[i]!;
        if (v < low) low = v;
        else if (v > high) high = v;
      }
      if (inPair < fineFrames) break;
      this.pairs.push(low, high);
      low = high = inPair = 0;
    }
    this.low = low;
    this.high = high;
    this.inPair = inPair;
  }
  /** The last, shorter pair. */
  close(): void {
    if (this.inPair > 0) this.pairs.push(this.low, this.high);
    this.inPair = this.low = this.high = 0;
  }
  coarse(): number[] {
    const out: number[] = [];
    for (let i = 0; i < this.pairs.length; i += 2 * finePerCoarse) {
      const part = this.pairs.slice(i, i + 2 * finePerCoarse);
      out.push(Math.min(0, ...part), Math.max(0, ...part));
    }
    return out;
  }
}

/** Gathers lowest and highest samples while a file goes by, and its largest magnitude. */
export class PeakGatherer {
  private readonly peaks: ChannelPeaks[];

  constructor(channels: number) {
    this.peaks = Array.from({ length: channels }, () => new ChannelPeaks());
  }

  add(audio: readonly Float32Array[], frames: number): void {
    this.peaks.forEach((p, ch) => p.add(audio[ch]!, frames));
  }

  /** Ends the gathering; the levels can be read from then on. */
  close(): void {
    for (const p of this.peaks) p.close();
  }
  /** Largest magnitude, linear. */
  get peak(): number {
    let most = 0;
    for (const { pairs } of this.peaks) for (const v of pairs) most = Math.max(most, Math.abs(v));
    return most;
  }
  /** Signed bytes of a level, all pairs of the first channel, then of the second. */
  level(level: number): Buffer {
    const all = this.peaks.flatMap((p) => (level === 0 ? p.pairs : p.coarse()));
    return Buffer.from(Int8Array.from(all, (v) => Math.max(-127, Math.min(127, Math.round(v * 127)))).buffer);
  }
}
