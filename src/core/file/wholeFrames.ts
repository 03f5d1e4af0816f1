/** Cuts bytes that come in pieces into whole frames: what one piece leaves over begins the next. Pieces are not kept. */
export class WholeFrames {
  private readonly begun: Uint8Array;
  private filled = 0;
  constructor(private readonly frameBytes: number) {
    this.begun = new Uint8Array(frameBytes);
  }
  /** Passes on what is whole, at most twice a piece. */
  take(piece: Uint8Array, pass: (bytes: Uint8Array, frames: number) => void): void {
    let bytes = piece;
    if (this.filled > 0) {
      const missing = bytes.subarray(0, this.frameBytes - this.filled);
      this.begun.set(missing, this.filled);
      this.filled += missing.length;
      if (this.filled < this.frameBytes) return;
      pass(this.begun, 1);
      bytes = bytes.subarray(missing.length);
    }
    const frames = Math.floor(bytes.length / this.frameBytes);
    if (frames > 0) pass(bytes, frames);
    const left = bytes.subarray(frames * this.frameBytes);
    this.begun.set(left);
    this.filled = left.length;
  }
}
