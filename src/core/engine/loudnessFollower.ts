import { designKWeighting } from "../measure/kWeighting";
import { Cascade } from "../signal/biquad";
import { powerToDb } from "../signal/level";

/** Offset of loudness over mean square. Source  ITU-R BS.1770-5, annex 1, eq. 2. */
const loudnessOffset = -0.691;

/**
 * Loudness while it plays: momentary (400 ms) and a slow average of what lies above -60 LUFS, both K-weighted.
 * Allocates only when made. Source  ITU-R BS.1770-5.
 */
export class LoudnessFollower {
  private readonly filters: Cascade[];
  private readonly scratch: Float32Array;
  private fast = 0;
  private slow = 0;
  private heard = 0;

  constructor(
    private readonly sampleRate: number,
    maxFrames: number,
  ) {
    this.filters = [0, 1].map(() => {
      const cascade = new Cascade(2);
      cascade.set(designKWeighting(sampleRate));
      return cascade;
    });
    this.scratch = new Float32Array(maxFrames);
  }

  get momentary(): number {
    return powerToDb(this.fast) + loudnessOffset;
  }
  /** Average so far, LUFS; forgets with 12 s. */
  get level(): number {
    return powerToDb(this.slow) + loudnessOffset;
  }

  /** True once something louder than a pause was heard. */
  get measured(): boolean {
    return this.heard > 0;
  }

  /** Shape: one or two channels. */
  add(x: readonly Float32Array[], frames: number): void {
    let power = 0;
    for (let ch = 0; ch < x.length; ch++) {
      this.filters[ch]!.process(x[ch]!, this.scratch, frames);
      for (let i = 0; i < frames; i++) power += this.scratch[i]! * this.scratch[i]!;
    }
    power /= frames;
    this.fast += (power - this.fast) * Math.min(1, frames / (0.4 * this.sampleRate));
    if (this.fast < 1e-6) return; // pauses do not count
    this.heard += frames;
    this.slow += (power - this.slow) * Math.max(frames / this.heard, frames / (12 * this.sampleRate));
  }
}
