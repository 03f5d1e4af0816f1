import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";

export const reverbParams = {
  decay: number("Decay", "s", 0.1, 6, 0.7, "Time to fall by 60 dB (T60).", "log"),
  size: number("Size", "%", 10, 100, 45, "Spacing of the walls."),
  predelay: number("Pre-delay", "s", 0, 0.1, 0.008, "Time before the room answers."),
  damping: number(
    "Damping",
    "Hz",
    1000,
    20000,
    6500,
    "Frequency at which it decays twice as fast as at low ones.",
    "log",
  ),
  lowCut: number("Low cut", "Hz", 20, 1000, 120, "The room gets nothing below.", "log"),
  mix: number("Mix", "%", 0, 100, 100, "Share of the room; 100 % on a bus of its own."),
} as const satisfies ParamTable;
type Values = ParamValues<typeof reverbParams>;

/** Line lengths at full size in seconds: no common factors, 29 to 89 ms (chosen by us). */
const lineSeconds = [0.0293, 0.0371, 0.0437, 0.0533, 0.0597, 0.0677, 0.0787, 0.0887];
const lines = lineSeconds.length;
const diffuserSeconds = [0.0043, 0.0061, 0.0089, 0.0113];

/**
 * Pole of a line's one-pole low-pass that takes as much again as the line's gain at the frequency whose cosine is
 * given, so that the room decays twice as fast there, and nothing at 0 Hz.
 * Source  Jot and Chaigne 1991, absorbent filters; (1 - b)^2 = g^2 (1 + b^2 - 2 b cos w) solved for b < 1.
 */
export function designDamping(gain: number, cos: number): number {
  const a = 1 - gain * gain;
  const b = 1 - gain * gain * cos;
  return (b - Math.sqrt(Math.max(0, b * b - a * a))) / a;
}

/**
 * Room from a feedback delay network of eight lines, fed through four all-pass diffusers a side.
 * Shape   one or two channels in, two out. Latency 0. Decay holds well below the damping.
 * Source  Jot and Chaigne, AES 90th Convention, 1991: gain of a line 10^(-3 length / T60); Householder matrix.
 * Checked reverb.test.ts: Schroeder integration (JASA 37, 1965), T60 within 10 %.
 */
export class Reverb implements Processor<Values> {
  readonly latency = 0;
  private sampleRate = 0;
  private memory: Float32Array[] = [];
  private readonly length = new Int32Array(lines);
  private readonly gain = new Float64Array(lines);
  private readonly damp = new Float64Array(lines);
  private readonly tap = new Float64Array(lines);
  private at = 0;
  private diffusers: Float32Array[][] = [];
  private diffuserAt: Int32Array[] = [];
  private pre: Float32Array[] = [];
  private preFrames = 0;
  private preAt = 0;
  private cuts: Cascade[] = [];
  private feed: Float32Array[] = [];
  private readonly pole = new Float64Array(lines);
  private wet = 1;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    const size = 2 ** Math.ceil(Math.log2(0.09 * sampleRate + 1));
    this.memory = lineSeconds.map(() => new Float32Array(size));
    this.diffusers = [0, 1].map((side) =>
      diffuserSeconds.map((s) => new Float32Array(Math.round(s * (1 + 0.07 * side) * sampleRate))),
    );
    this.diffuserAt = [new Int32Array(4), new Int32Array(4)];
    this.pre = [0, 1].map(() => new Float32Array(Math.ceil(0.1 * sampleRate) + 1));
    this.cuts = [new Cascade(1), new Cascade(1)];
    this.feed = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: Values): void {
    const rate = this.sampleRate;
    const cos = Math.cos((2 * Math.PI * Math.min(v.damping, 0.45 * rate)) / rate);
    for (let k = 0; k < lines; k++) {
      this.length[k] = Math.max(8, Math.round((lineSeconds[k]! * v.size * rate) / 100));
      const gain = Math.pow(10, (-3 * this.length[k]!) / (v.decay * rate));
      this.gain[k] = gain;
      this.pole[k] = designDamping(gain, cos);
    }
    this.preFrames = Math.round(v.predelay * rate);
    this.wet = v.mix / 100;
    const cut = designButterworth("high", v.lowCut, 2, rate);
    for (const filter of this.cuts) filter.set(cut);
  }
  reset(): void {
    for (const m of this.memory) m.fill(0);
    for (const side of this.diffusers) for (const d of side) d.fill(0);
    for (const p of this.pre) p.fill(0);
    for (const c of this.cuts) c.reset();
    this.damp.fill(0);
  }

  /** The room goes on ringing. */
  adopt(from: Processor<Values>): void {
    if (!(from instanceof Reverb) || from.sampleRate !== this.sampleRate) return;
    const copy = (to: readonly Float32Array[], other: readonly Float32Array[]) =>
      to.forEach((x, i) => x.set(other[i]!));
    copy(this.memory, from.memory);
    copy(this.pre, from.pre);
    this.diffusers.forEach((side, s) => copy(side, from.diffusers[s]!));
    this.diffuserAt.forEach((at, s) => at.set(from.diffuserAt[s]!));
    this.damp.set(from.damp);
    this.at = from.at;
    this.preAt = from.preAt;
  }

  /** Low cut, pre-delay and diffusion of one side, into this.feed. */
  private prepareFeed(x: Float32Array, side: number, frames: number): void {
    const y = this.feed[side]!;
    this.cuts[side]!.process(x, y, frames);
    const pre = this.pre[side]!;
    const at = this.diffuserAt[side]!;
    let p = this.preAt;
    for (let i = 0; i < frames; i++) {
      pre[p] = y[i]!;
      let v = pre[(p - this.preFrames + pre.length) % pre.length]!;
      if (++p === pre.length) p = 0;
      for (let d = 0; d < 4; d++) {
        const ring = this.diffusers[side]![d]!;
        const old = ring[at[d]!]!;
        const into = v + 0.6 * old;
        ring[at[d]!] = Math.abs(into) < 1e-18 ? 0 : into;
        v = old - 0.6 * into;
        if (++at[d]! === ring.length) at[d] = 0;
      }
      y[i] = v;
    }
    if (side === 1) this.preAt = p;
  }

  process(input: Planar, output: Planar, frames: number): void {
    const left = input[0]!;
    const right = input[input.length > 1 ? 1 : 0]!;
    this.prepareFeed(left, 0, frames);
    this.prepareFeed(right, 1, frames);
    const mask = this.memory[0]!.length - 1;
    const { tap, damp, gain, length, pole } = this;
    const [feedLeft, feedRight] = this.feed as [Float32Array, Float32Array];
    let at = this.at;
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (let k = 0; k < lines; k++) {
        const raw = this.memory[k]![(at - length[k]!) & mask]!;
        damp[k] = raw + pole[k]! * (damp[k]! - raw);
        if (Math.abs(damp[k]!) < 1e-18) damp[k] = 0;
        tap[k] = gain[k]! * damp[k]!;
        sum += tap[k]!;
      }
      sum *= 2 / lines;
      for (let k = 0; k < lines; k++)
        this.memory[k]![at] = tap[k]! - sum + 0.5 * (k % 2 === 0 ? feedLeft[i]! : feedRight[i]!);
      const wetLeft = 0.5 * (tap[0]! - tap[2]! + tap[4]! - tap[6]!);
      const wetRight = 0.5 * (tap[1]! - tap[3]! + tap[5]! - tap[7]!);
      const dryLeft = left[i]!;
      const dryRight = right[i]!;
      output[0]![i] = dryLeft + this.wet * (wetLeft - dryLeft);
      output[1]![i] = dryRight + this.wet * (wetRight - dryRight);
      at = (at + 1) & mask;
    }
    this.at = at;
  }
}
