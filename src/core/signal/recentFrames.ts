/** The last frames of a stream, the oldest first. Allocates only when made. */
export class RecentFrames {
  readonly frames: Float32Array;
  constructor(length: number) {
    this.frames = new Float32Array(length);
  }
  reset(): void {
    this.frames.fill(0);
  }
  take(x: Float32Array, count: number): void {
    const { frames } = this;
    const { length } = frames;
    if (count >= length) return frames.set(x.subarray(count - length, count));
    frames.copyWithin(0, count);
    frames.set(x.subarray(0, count), length - count);
  }
}
