/** Frames behind one pair of lowest and highest sample, from fine to coarse. */
export const peakLevels = [256, 4096] as const;

/** Gathers lowest and highest samples while a file goes by, and its largest magnitude. */
export class PeakGatherer {
  private readonly pairs: number[][][];
  private readonly low: number[][];
  private readonly high: number[][];
  private frames = 0;
  peak = 0;

  constructor(private readonly channels: number) {
    this.pairs = peakLevels.map(() => Array.from({ length: channels }, () => []));
    this.low = peakLevels.map(() => new Array<number>(channels).fill(0));
    this.high = peakLevels.map(() => new Array<number>(channels).fill(0));
  }

  add(audio: readonly Float32Array[], frames: number): void {
    for (let i = 0; i < frames; i++) {
      for (let ch = 0; ch < this.channels; ch++) {
        const v = audio[ch]![i]!;
        const a = Math.abs(v);
        if (a > this.peak) this.peak = a;
        for (let level = 0; level < peakLevels.length; level++) {
          if (v < this.low[level]![ch]!) this.low[level]![ch] = v;
          if (v > this.high[level]![ch]!) this.high[level]![ch] = v;
        }
      }
      this.frames++;
      for (let level = 0; level < peakLevels.length; level++)
        if (this.frames % peakLevels[level]! === 0) this.close(level);
    }
  }

  private close(level: number): void {
    for (let ch = 0; ch < this.channels; ch++) {
      this.pairs[level]![ch]!.push(this.low[level]![ch]!, this.high[level]![ch]!);
      this.low[level]![ch] = 0;
      this.high[level]![ch] = 0;
    }
  }

  /** Signed bytes of a level, all pairs of the first channel, then of the second. */
  finish(level: number): Buffer {
    if (this.frames % peakLevels[level]! !== 0) this.close(level);
    const all = this.pairs[level]!.flat();
    return Buffer.from(Int8Array.from(all, (v) => Math.max(-127, Math.min(127, Math.round(v * 127)))).buffer);
  }
}
