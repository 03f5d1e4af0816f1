/** Follows the largest magnitude of a file's samples while it goes by. */
export class LargestSample {
  /** Linear. */
  peak = 0;
  take(size: number): void {
    if (size > this.peak) this.peak = size;
  }
  add(audio: readonly Float32Array[], frames: number): void {
    for (const x of audio) for (let i = 0; i < frames; i++) this.take(Math.abs(x[i]!));
  }
}
