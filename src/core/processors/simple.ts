import { choice, number, type ParamTable, type ParamValues } from "../params";
import type { Planar, Processor, ProcessorType, StreamFormat } from "../processor";
import { convolve } from "../signal/convolve";
import { designFractional, fractionalTaps } from "../signal/fractionalDelay";
import { dbToGain } from "../signal/level";

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

export const trimParams = {
  gain: number("Trim", "dB", -40, 40, 0, "Level of the mic before everything else."),
} as const satisfies ParamTable;

/** Input gain. Latency 0. */
class Trim implements Processor<ParamValues<typeof trimParams>> {
  readonly latency = 0;
  private readonly glide = new Glide();
  prepare(): void {}
  set({ gain }: ParamValues<typeof trimParams>): void {
    this.glide.set(dbToGain(gain));
  }
  reset(): void {
    this.glide.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++)
      this.glide.apply(input[ch]!, output[ch]!, frames, ch === input.length - 1);
  }
}

export const polarityParams = {
  polarity: choice("Polarity", ["as recorded", "inverted"], "Turns the wave upside down."),
} as const satisfies ParamTable;

/** Polarity: multiplies by -1 when inverted. Latency 0. */
class Polarity implements Processor<ParamValues<typeof polarityParams>> {
  readonly latency = 0;
  private readonly glide = new Glide();
  prepare(): void {}
  set({ polarity }: ParamValues<typeof polarityParams>): void {
    this.glide.set(polarity === "inverted" ? -1 : 1);
  }
  reset(): void {
    this.glide.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    for (let ch = 0; ch < input.length; ch++)
      this.glide.apply(input[ch]!, output[ch]!, frames, ch === input.length - 1);
  }
}

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
class Delay implements Processor<ParamValues<typeof delayParams>> {
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

export const panParams = {
  position: number("Pan", "%", -100, 100, 0, "Left (negative) to right; for a stereo mic its balance."),
} as const satisfies ParamTable;

/** Gains of left and right at a place: sine law for one channel, balance for two. Pure. */
export function designPan(position: number, mono: boolean): [left: number, right: number] {
  const p = position / 100;
  const angle = ((p + 1) * Math.PI) / 4;
  return mono ? [Math.cos(angle), Math.sin(angle)] : [Math.min(1, 1 - p), Math.min(1, 1 + p)];
}

/**
 * Pan: one channel to two at constant power (-3.01 dB each in the middle, sine law, common practice);
 * two channels are balanced: the far side is turned down, the near one stays.
 */
class Pan implements Processor<ParamValues<typeof panParams>> {
  readonly latency = 0;
  private mono = true;
  private readonly left = new Glide();
  private readonly right = new Glide();
  prepare({ channels }: StreamFormat): void {
    this.mono = channels === 1;
  }
  set({ position }: ParamValues<typeof panParams>): void {
    const [left, right] = designPan(position, this.mono);
    this.left.set(left);
    this.right.set(right);
  }
  reset(): void {
    this.left.reset();
    this.right.reset();
  }
  process(input: Planar, output: Planar, frames: number): void {
    const second = input[this.mono ? 0 : 1]!;
    this.right.apply(second, output[1]!, frames, true);
    this.left.apply(input[0]!, output[0]!, frames, true);
  }
}

export const trim: ProcessorType = {
  type: "trim",
  label: "Trim",
  help: "Sets the level of a mic first, so that faders start at 0 dB.",
  params: trimParams,
  create: () => new Trim() as Processor,
};
export const polarity: ProcessorType = {
  type: "polarity",
  label: "Polarity",
  help: "Turns a mic over that was recorded upside down.",
  params: polarityParams,
  create: () => new Polarity() as unknown as Processor,
};
export const delay: ProcessorType = {
  type: "delay",
  label: "Delay",
  help: "Moves a mic in time, to a fraction of a frame.",
  params: delayParams,
  create: () => new Delay() as Processor,
};
export const pan: ProcessorType = {
  type: "pan",
  label: "Pan",
  help: "Places a mic between left and right.",
  params: panParams,
  create: () => new Pan() as Processor,
};
