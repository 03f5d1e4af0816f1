import { laneFrames } from "../lanes/laneMemory";

/** Audio of the last frames of a channel, from which looks are taken and the untouched side is played. */
export class History {
  private readonly ring: Float32Array;
  private at = 0;
  constructor(frames: number) {
    this.ring = new Float32Array(frames);
  }
  reset(): void {
    this.ring.fill(0);
    this.at = 0;
  }
  /** Takes a block and gives the one that went in as long ago as the ring is long. The ring is a whole number of blocks long. */
  exchange(x: Float32Array, y: Float32Array): void {
    const { ring, at } = this;
    for (let i = 0; i < laneFrames; i++) {
      const v = x[i]!;
      y[i] = ring[at + i]!;
      ring[at + i] = v;
    }
    this.at = (at + laneFrames) % ring.length;
  }
  /** Copies `out.length` frames that end `ago` frames before the newest. */
  copy(ago: number, out: Float32Array): void {
    const { ring } = this;
    let from = (this.at - ago - out.length + 2 * ring.length) % ring.length;
    for (let i = 0; i < out.length; i++) {
      out[i] = ring[from]!;
      if (++from === ring.length) from = 0;
    }
  }
}
