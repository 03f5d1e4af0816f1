import { peakOf } from "../../core/signal/level";

/** Frames that are waited for by what is behind before the rest is looked at. */
const looked = 1 << 16;

/** What the kit leaves of the sum of some buses: each comes in blocks of its own, and hardly more than they lie apart is kept. */
export class BusSum {
  private left: [Float32Array, Float32Array];
  /** Frame at which what is kept begins. */
  private base = 0;
  private largest = 0;
  private readonly come: Map<string, number>;

  /** Shape  names of what is waited for: the kit and the buses. */
  constructor(names: Iterable<string>) {
    this.come = new Map([...names].map((name) => [name, 0]));
    this.left = [new Float32Array(2 * looked), new Float32Array(2 * looked)];
  }
  /** Adds the next frames of one of them, or takes them away; others are passed over. */
  take(name: string, sign: 1 | -1, channels: readonly Float32Array[]): void {
    const at = this.come.get(name);
    if (at === undefined) return;
    const frames = channels[0]!.length;
    this.makeRoom(at - this.base + frames);
    channels.forEach((x, ch) => {
      const y = this.left[ch]!;
      for (let i = 0; i < frames; i++) y[at - this.base + i]! += sign * x[i]!;
    });
    this.come.set(name, at + frames);
    const whole = Math.min(...this.come.values());
    if (whole - this.base >= looked) this.look(whole);
  }
  private makeRoom(frames: number): void {
    if (frames <= this.left[0].length) return;
    const grown = (x: Float32Array) => {
      const y = new Float32Array(2 * frames);
      y.set(x);
      return y;
    };
    this.left = [grown(this.left[0]), grown(this.left[1])];
  }
  private look(whole: number): void {
    const count = whole - this.base;
    for (const y of this.left) {
      this.largest = Math.max(this.largest, peakOf(y, 0, count));
      y.copyWithin(0, count);
      y.fill(0, y.length - count);
    }
    this.base = whole;
  }
  /** Largest sample that is left, linear. */
  get peak(): number {
    return Math.max(this.largest, peakOf(this.left[0]), peakOf(this.left[1]));
  }
}
