/**
 * The processed side of one channel, put together from looks that overlap by half: what is worked out while one half is
 * played is played next. Shape  size: frames of a look.
 */
export class WetSide {
  private readonly sum: Float64Array;
  /** Worked out, and played from the next look on. */
  private next: Float32Array;
  playing: Float32Array;
  constructor(size: number) {
    this.sum = new Float64Array(size);
    this.next = new Float32Array(size / 2);
    this.playing = new Float32Array(size / 2);
  }
  reset(): void {
    this.sum.fill(0);
    this.next.fill(0);
    this.playing.fill(0);
  }
  /** Adds a look, times the window; its first half is then whole. */
  add(look: Float64Array, window: Float64Array): void {
    const { sum, next } = this;
    const half = next.length;
    for (let i = 0; i < sum.length; i++) sum[i]! += look[i]! * window[i]!;
    for (let i = 0; i < half; i++) {
      next[i] = sum[i]!;
      sum[i] = sum[half + i]!;
      sum[half + i] = 0;
    }
  }
  /** Plays what was worked out. */
  swap(): void {
    const { next } = this;
    this.next = this.playing;
    this.playing = next;
  }
}
