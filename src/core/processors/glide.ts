/** Gain that glides to its target within one block, so that a move of a fader has no steps. */
export class Glide {
  private now = 1;
  private target = 1;
  private fresh = true;
  set(gain: number): void {
    this.target = gain;
    if (this.fresh) this.now = gain;
  }
  reset(): void {
    this.now = this.target;
    this.fresh = true;
  }
  /** Multiplies x by the gliding gain into y; several channels pass `advance` only with the last. */
  apply(x: Float32Array, y: Float32Array, frames: number, advance: boolean): void {
    const { now, target } = this;
    if (now === target) for (let i = 0; i < frames; i++) y[i] = x[i]! * target;
    else {
      const step = (target - now) / frames;
      for (let i = 0; i < frames; i++) y[i] = x[i]! * (now + step * (i + 1));
    }
    if (advance) {
      this.now = target;
      this.fresh = false;
    }
  }
}
