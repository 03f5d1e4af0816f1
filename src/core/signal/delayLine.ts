/** Delay by whole frames over one channel. Allocates only when made; output may be the input. */
export class DelayLine {
  private readonly buffer: Float32Array;
  private at = 0;

  constructor(readonly frames: number) {
    this.buffer = new Float32Array(Math.max(1, frames));
  }

  reset(): void {
    this.buffer.fill(0);
    this.at = 0;
  }

  process(x: Float32Array, y: Float32Array, frames: number): void {
    const length = this.frames;
    if (length === 0) {
      if (x !== y) for (let i = 0; i < frames; i++) y[i] = x[i]!;
      return;
    }
    const { buffer } = this;
    let at = this.at;
    for (let i = 0; i < frames;) {
      // Up to the end of the ring without asking for it at every frame.
      const end = Math.min(frames, i + length - at);
      for (; i < end; i++, at++) {
        const v = x[i]!;
        y[i] = buffer[at]!;
        buffer[at] = v;
      }
      if (at === length) at = 0;
    }
    this.at = at;
  }
}

/** Delay by whole frames that may be set while it runs, up to the most; in place. */
export class WaitLine {
  private readonly ring: Float32Array;
  private at = 0;
  /** Frames by which it is late now. */
  frames = 0;

  constructor(most: number) {
    this.ring = new Float32Array(most + 1);
  }
  reset(): void {
    this.ring.fill(0);
    this.at = 0;
  }
  process(x: Float32Array, frames: number): void {
    const { ring } = this;
    const { length } = ring;
    for (let i = 0; i < frames; i++) {
      ring[this.at] = x[i]!;
      x[i] = ring[(this.at - this.frames + length) % length]!;
      this.at = this.at + 1 === length ? 0 : this.at + 1;
    }
  }
}
