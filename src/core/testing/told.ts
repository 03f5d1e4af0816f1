import type { Samples } from "../signal/samples";

// For tests only.

/** A signal that does not lie in memory as its reader sees it: only what is asked for is told, each time anew. */
export class Told implements Samples {
  readonly length: number;
  /** Frames told at once, most. */
  most = 0;
  constructor(private readonly x: Float32Array) {
    this.length = x.length;
  }
  subarray(from: number, to = this.length): Float32Array {
    const end = Math.min(this.length, to);
    this.most = Math.max(this.most, end - from);
    return from < end ? this.x.slice(from, end) : new Float32Array(0);
  }
}
