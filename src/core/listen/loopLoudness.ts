import { designKWeighting } from "../measure/kWeighting";
import { Cascade } from "../signal/biquad";

/** Steps that are remembered: a minute of tenths of a second. */
const remembered = 600;
/** Steps that count when nothing is looped: 12 s. */
const recent = 120;
/** Steps of a gating block: 400 ms, which overlap by all but one step. */
const blockSteps = 4;

/** Absolute gate as mean square, -70 LUFS. Source  ITU-R BS.1770-5, annex 1. */
const absoluteGate = Math.pow(10, (-70 + 0.691) / 10);

/**
 * Loudness of a stretch of the song while it plays, measured anew as the stretch goes round: K-weighted, in blocks of
 * 400 ms with 75 % overlap, gated at -70 LUFS and 10 LU below the mean. Allocates only when made.
 * Source  ITU-R BS.1770-5, annex 1. Blocks begin on tenths of a second of the song.
 */
export class LoopLoudness {
  private readonly filters: Cascade[];
  private readonly scratch: Float32Array;
  private readonly step: number;
  private readonly sums = new Float64Array(remembered);
  private readonly counts = new Float64Array(remembered);
  private readonly steps = new Int32Array(remembered).fill(-1);
  private latest = -1;

  constructor(sampleRate: number, maxFrames: number) {
    this.filters = [0, 1].map(() => {
      const cascade = new Cascade(2);
      cascade.set(designKWeighting(sampleRate));
      return cascade;
    });
    this.scratch = new Float32Array(maxFrames);
    this.step = Math.round(sampleRate / 10);
  }

  /** Forgets what was measured. */
  clear(): void {
    this.steps.fill(-1);
    for (const filter of this.filters) filter.reset();
  }

  /** Takes one block of one or two channels; `position` is its place in the song, frames. */
  add(x: readonly Float32Array[], frames: number, position: number): void {
    let power = 0;
    for (let ch = 0; ch < x.length; ch++) {
      this.filters[ch]!.process(x[ch]!, this.scratch, frames);
      for (let i = 0; i < frames; i++) power += this.scratch[i]! * this.scratch[i]!;
    }
    if (position < 0) return;
    const step = Math.floor(position / this.step);
    const at = step % remembered;
    // Coming to a step anew, as a loop does, measures it anew.
    if (step !== this.latest || this.steps[at] !== step) {
      this.sums[at] = 0;
      this.counts[at] = 0;
      this.steps[at] = step;
      this.latest = step;
    }
    this.sums[at]! += power;
    this.counts[at]! += frames;
  }

  /** Mean square of the block that begins at a step; -1 when a part of it was not heard. */
  private block(step: number): number {
    let sum = 0;
    let count = 0;
    for (let s = step; s < step + blockSteps; s++) {
      const at = s % remembered;
      if (this.steps[at] !== s) return -1;
      sum += this.sums[at]!;
      count += this.counts[at]!;
    }
    return count > 0 ? sum / count : -1;
  }

  /** Mean of the blocks in [from, to) above a gate, or 0. */
  private mean(from: number, to: number, gate: number): number {
    let sum = 0;
    let count = 0;
    for (let step = from; step + blockSteps <= to; step++) {
      const power = this.block(step);
      if (power <= gate) continue;
      sum += power;
      count++;
    }
    return count > 0 ? sum / count : 0;
  }

  /** Loudness in LUFS over a stretch of the song in frames, or over what was heard last; -Infinity: nothing yet. */
  measure(range: { readonly from: number; readonly to: number } | null): number {
    const last = this.latest + 1;
    let from = range ? Math.floor(range.from / this.step) : Math.max(0, last - recent);
    let to = range ? Math.ceil(range.to / this.step) : last;
    if (to - from > remembered) from = to - remembered;
    if (to - from < blockSteps) to = from + blockSteps;
    const audible = this.mean(from, to, absoluteGate);
    if (audible === 0) return -Infinity;
    const mean = this.mean(from, to, Math.max(absoluteGate, audible / 10));
    return -0.691 + 10 * Math.log10(mean);
  }
}
