import { Cascade, designButterworth } from "../signal/biquad";
import { dbToGain } from "../signal/level";
import { plainMonitor, type MonitorSettings } from "./listening";

/** Share of the way to a new setting in one block of 128 frames. */
const glideShare = 0.2;
const dimDb = -20;
/** What a small loudspeaker gives: common practice, no source. Hz. */
const smallFrom = 250;
const smallTo = 7000;

/** Mono, swapped sides, small loudspeaker, dim: the last thing before the ears. All of it glides. */
export class Monitor {
  private readonly filters: Cascade[];
  private readonly narrow: Float32Array[];
  /** Gains of own and other side, share of the small loudspeaker. */
  private own = 1;
  private other = 0;
  private small = 0;
  private settings = plainMonitor;

  constructor(sampleRate: number, maxFrames: number) {
    this.filters = [0, 1].map(() => {
      const cascade = new Cascade(3);
      cascade.set([
        ...designButterworth("high", smallFrom, 4, sampleRate),
        ...designButterworth("low", smallTo, 2, sampleRate),
      ]);
      return cascade;
    });
    this.narrow = [0, 1].map(() => new Float32Array(maxFrames));
  }

  set(settings: MonitorSettings): void {
    this.settings = settings;
  }

  /** In place over two channels. */
  process(y: readonly Float32Array[], frames: number): void {
    const { mono, swapped, small, dimmed } = this.settings;
    const gain = dimmed ? dbToGain(dimDb) : 1;
    const both = mono || small; // a small loudspeaker is one
    const ownTo = gain * (both ? 0.5 : swapped ? 0 : 1);
    const otherTo = gain * (both ? 0.5 : swapped ? 1 : 0);
    const smallTo_ = small ? 1 : 0;
    if (this.own === 1 && this.other === 0 && this.small === 0 && ownTo === 1 && otherTo === 0 && !small)
      return;
    const next = (now: number, to: number) =>
      Math.abs(to - now) < 1e-4 ? to : now + glideShare * (to - now);
    const a1 = next(this.own, ownTo);
    const b1 = next(this.other, otherTo);
    const s1 = next(this.small, smallTo_);
    const [left, right] = y as [Float32Array, Float32Array];
    for (let i = 0; i < frames; i++) {
      const share = (i + 1) / frames;
      const a = this.own + share * (a1 - this.own);
      const b = this.other + share * (b1 - this.other);
      const l = left[i]!;
      const r = right[i]!;
      left[i] = a * l + b * r;
      right[i] = a * r + b * l;
    }
    if (this.small > 0 || s1 > 0)
      for (let ch = 0; ch < 2; ch++) {
        const x = y[ch]!;
        const n = this.narrow[ch]!;
        this.filters[ch]!.process(x, n, frames);
        for (let i = 0; i < frames; i++)
          x[i]! += (this.small + ((i + 1) / frames) * (s1 - this.small)) * (n[i]! - x[i]!);
      }
    this.own = a1;
    this.other = b1;
    this.small = s1;
  }
}
