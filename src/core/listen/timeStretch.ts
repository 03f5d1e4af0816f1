/** Frames of one grain and of the step by which grains are laid down, at 48 kHz: 21 and 10.7 ms. */
const grain = 1024;
const hop = grain / 2;
/** Frames a grain may be moved to fit the one before. */
const search = 256;
/** Every how many frames two grains are compared. */
const sparse = 4;

/**
 * Plays at half speed without changing the pitch: grains are laid down at their own distance but taken at half of it,
 * each moved to where it continues the last one best.
 * Source  waveform-similarity overlap-add, Verhelst and Roelands, ICASSP 1993.
 * Shape   two channels; `push` a block, `pull` two blocks. Allocates only when made.
 */
export class TimeStretch {
  private readonly size = 8192;
  private readonly input: Float32Array[];
  private readonly output: Float32Array[];
  private readonly window: Float32Array;
  private written = 0;
  /** Where the next grain is taken if it fits at once. */
  private next = 0;
  /** Where the last grain would have gone on by itself. */
  private natural = -1;
  private laid = 0;
  private pulled = 0;

  constructor() {
    this.input = [0, 1].map(() => new Float32Array(this.size));
    this.output = [0, 1].map(() => new Float32Array(this.size));
    this.window = Float32Array.from(
      { length: grain },
      (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / grain),
    );
  }
  reset(): void {
    for (const x of [...this.input, ...this.output]) x.fill(0);
    this.written = this.next = this.laid = this.pulled = 0;
    this.natural = -1;
  }
  /** Frames that can be pulled. */
  get ready(): number {
    return this.laid - this.pulled;
  }
  push(x: readonly Float32Array[], frames: number): void {
    const mask = this.size - 1;
    for (let ch = 0; ch < 2; ch++)
      for (let i = 0; i < frames; i++) this.input[ch]![(this.written + i) & mask] = x[ch]![i]!;
    this.written += frames;
    while (this.next + search + grain <= this.written && this.ready + hop <= this.size / 2) this.lay();
  }
  /** Place around `next` where the input is most like what followed the last grain. */
  private fit(): number {
    if (this.natural < 0) return this.next;
    const mask = this.size - 1;
    const [left, right] = this.input as [Float32Array, Float32Array];
    let best = this.next;
    let most = -Infinity;
    for (let at = Math.max(0, this.next - search); at <= this.next + search; at++) {
      let product = 0;
      let power = 1e-12;
      for (let i = 0; i < hop; i += sparse) {
        const a = (at + i) & mask;
        const b = (this.natural + i) & mask;
        const v = left[a]! + right[a]!;
        product += v * (left[b]! + right[b]!);
        power += v * v;
      }
      const likeness = product / Math.sqrt(power);
      if (likeness > most) {
        most = likeness;
        best = at;
      }
    }
    return best;
  }
  private lay(): void {
    const mask = this.size - 1;
    const at = this.fit();
    for (let ch = 0; ch < 2; ch++) {
      const x = this.input[ch]!;
      const y = this.output[ch]!;
      for (let i = 0; i < hop; i++) y[(this.laid + i) & mask]! += this.window[i]! * x[(at + i) & mask]!;
      for (let i = hop; i < grain; i++) y[(this.laid + i) & mask] = this.window[i]! * x[(at + i) & mask]!;
    }
    this.natural = at + hop;
    this.next += hop / 2;
    this.laid += hop;
  }
  /** Takes frames out; there must be as many ready. */
  pull(y: readonly Float32Array[], frames: number): void {
    const mask = this.size - 1;
    for (let ch = 0; ch < 2; ch++)
      for (let i = 0; i < frames; i++) y[ch]![i] = this.output[ch]![(this.pulled + i) & mask]!;
    this.pulled += frames;
  }
}
