import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { convolve } from "../../signal/convolve";
import { designFractional, fractionalTaps } from "../../signal/fractionalDelay";

export const delayParams = {
  delay: number("Delay", "smp", -2400, 2400, 0, "Moves the mic later (positive) or earlier (negative)."),
} as const satisfies ParamTable;

/** Frames by which every mic is held back, so that a mic can also be moved earlier. */
export const delayHeadroom = 2400;

/** Latency of every delay, frames. */
export const delayLatency = delayHeadroom + fractionalTaps / 2;
/** Frames a delay remembers: a power of two above twice the headroom, the taps and a block. */
export const delayRing = 8192;

/** How a delay reads: whole frames back and, unless that is exact, the taps of the interpolator. Pure. */
export function designDelay(delay: number) {
  const total = delayLatency + delay;
  const whole = Math.floor(total + 1e-9);
  const fraction = total - whole;
  const exact = fraction < 1e-6;
  const taps = new Float64Array(exact ? 0 : fractionalTaps);
  if (!exact) designFractional(1 - fraction, taps);
  return { delay, whole, exact, taps };
}
export type DelaySetting = ReturnType<typeof designDelay>;

/**
 * Delay to a fraction of a frame, in the range -2400..2400.
 * Latency `delayHeadroom` + interpolator; whole-frame delays are exact copies. A move fades from
 * the old place to the new one within a block.
 * Source  windowed sinc of 32 taps (Laakso et al. 1996).
 */
export class Delay implements Processor<ParamValues<typeof delayParams>> {
  readonly latency = delayLatency;
  private buffers: Float32Array[] = [];
  private window = new Float64Array(0);
  private moved = new Float32Array(0);
  private mask = 0;
  private at = 0;
  private setting = designDelay(0);
  /** The setting of the last block, while the new one fades in. */
  private before: ReturnType<typeof designDelay> | null = null;

  prepare({ channels, maxFrames }: StreamFormat): void {
    this.mask = delayRing - 1;
    this.buffers = Array.from({ length: channels }, () => new Float32Array(delayRing));
    this.window = new Float64Array(maxFrames + fractionalTaps);
    this.moved = new Float32Array(maxFrames);
  }
  set({ delay }: ParamValues<typeof delayParams>): void {
    if (delay === this.setting.delay) return;
    this.before ??= this.setting;
    this.setting = designDelay(delay);
  }
  reset(): void {
    for (const buffer of this.buffers) buffer.fill(0);
    this.before = null;
  }
  process(input: Planar, output: Planar, frames: number): void {
    const { mask, before, moved } = this;
    const start = this.at;
    for (let ch = 0; ch < input.length; ch++) {
      const x = input[ch]!;
      const y = output[ch]!;
      const buffer = this.buffers[ch]!;
      for (let i = 0; i < frames; i++) buffer[(start + i) & mask] = x[i]!;
      this.read(buffer, this.setting, y, frames);
      if (!before) continue;
      this.read(buffer, before, moved, frames);
      for (let i = 0; i < frames; i++) y[i] = moved[i]! + ((i + 1) / frames) * (y[i]! - moved[i]!);
    }
    this.before = null;
    this.at = (start + frames) & mask;
  }
  private read(buffer: Float32Array, setting: DelaySetting, y: Float32Array, frames: number): void {
    const { mask, window, at } = this;
    const { whole, exact, taps } = setting;
    if (exact) {
      for (let i = 0; i < frames; i++) y[i] = buffer[(at + i - whole) & mask]!;
      return;
    }
    const base = at - whole - fractionalTaps / 2;
    for (let i = 0; i < frames + fractionalTaps - 1; i++) window[i] = buffer[(base + i) & mask]!;
    convolve(taps, window, 0, y, frames);
  }
}
