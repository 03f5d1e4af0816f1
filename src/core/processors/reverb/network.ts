import { longestPredelay } from "../predelay";
import type { Planar, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";

export const spaceKinds = ["room", "chamber", "plate", "hall"] as const;
export type SpaceKind = (typeof spaceKinds)[number];

/** What a network is set by; units as in the reverb's parameters. */
export interface NetworkValues {
  readonly kind: SpaceKind;
  readonly decay: number;
  readonly lowDecay: number;
  readonly size: number;
  readonly damping: number;
  readonly modulation: number;
  readonly lowCut: number;
}
/** Below this lows have a decay of their own, Hz. */
export const lowFrom = 200;

/** Lengths of lines at full size and of diffusers, s, and how strongly these diffuse; without common factors, chosen by us. */
interface Kind {
  readonly lines: readonly number[];
  readonly diffusers: readonly number[];
  readonly diffusion: number;
}
const spaces: Readonly<Record<SpaceKind, Kind>> = {
  room: {
    lines: [0.0293, 0.0371, 0.0437, 0.0533, 0.0597, 0.0677, 0.0787, 0.0887],
    diffusers: [0.0043, 0.0061, 0.0089, 0.0113],
    diffusion: 0.6,
  },
  chamber: {
    lines: [0.0311, 0.0353, 0.0397, 0.0449, 0.0503, 0.0557, 0.0613, 0.0673],
    diffusers: [0.0071, 0.0097, 0.0131, 0.0173],
    diffusion: 0.68,
  },
  plate: {
    lines: [0.0131, 0.0167, 0.0199, 0.0239, 0.0277, 0.0313, 0.0359, 0.0401],
    diffusers: [0.0023, 0.0031, 0.0047, 0.0067],
    diffusion: 0.72,
  },
  hall: {
    lines: [0.0613, 0.0719, 0.0823, 0.0937, 0.1051, 0.1181, 0.1319, 0.1459],
    diffusers: [0.0109, 0.0157, 0.0223, 0.0307],
    diffusion: 0.66,
  },
};
const lines = 8;
const longestLine = 0.15;
const longestDiffuser = 0.035;
/** How far a line wanders at full modulation, s, and how fast the first of them does, Hz. */
const wanders = 0.0006;
const wanderHz = 0.43;

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
 * Feedback delay network of eight lines, fed through four all-pass diffusers a side: the wet sound alone. Decay holds well below the
 * damping, and above `lowFrom` where lows are given a time of their own.
 * Source  Jot and Chaigne, AES 90th Convention, 1991: gain of a line 10^(-3 length / T60); Householder matrix.
 * Checked reverb.test.ts: Schroeder integration (JASA 37, 1965), T60 within 10 %.
 */
export class Network {
  private sampleRate = 0;
  private memory: Float32Array[] = [];
  private readonly length = new Int32Array(lines);
  private readonly gain = new Float64Array(lines);
  private readonly damp = new Float64Array(lines);
  private readonly tap = new Float64Array(lines);
  private at = 0;
  private diffusers: Float32Array[][] = [];
  /** Lengths of the diffusers, [side][diffuser], frames. */
  private diffuserFrames: Int32Array[] = [];
  private kind: SpaceKind | null = null;
  private diffusion = 0;
  /** Frames by which lines wander, and the phase of each. */
  private depth = 0;
  private readonly phase = new Float64Array(lines);
  private readonly turn = new Float64Array(lines);
  private diffuserAt: Int32Array[] = [];
  private pre: Float32Array[] = [];
  private preFrames = 0;
  private preAt = 0;
  private cuts: Cascade[] = [];
  private feed: Float32Array[] = [];
  private readonly pole = new Float64Array(lines);
  /** What lows get beside a line's own gain, less 1, and a line's lows so far. */
  private readonly lowGain = new Float64Array(lines);
  private readonly lows = new Float64Array(lines);
  private lowPole = 0;
  private lowWorks = false;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    const size = 2 ** Math.ceil(Math.log2(longestLine * sampleRate + wanders * sampleRate + 3));
    this.memory = Array.from({ length: lines }, () => new Float32Array(size));
    const longest = Math.ceil(longestDiffuser * sampleRate);
    this.diffusers = [0, 1].map(() => Array.from({ length: 4 }, () => new Float32Array(longest)));
    this.diffuserFrames = [new Int32Array(4), new Int32Array(4)];
    this.diffuserAt = [new Int32Array(4), new Int32Array(4)];
    this.pre = [0, 1].map(() => new Float32Array(Math.ceil(longestPredelay * sampleRate) + 1));
    this.cuts = [new Cascade(1), new Cascade(1)];
    this.feed = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: NetworkValues): void {
    const rate = this.sampleRate;
    const cos = Math.cos((2 * Math.PI * Math.min(v.damping, 0.45 * rate)) / rate);
    const space = spaces[v.kind];
    if (v.kind !== this.kind) this.build(v.kind, space);
    this.depth = (v.modulation / 100) * wanders * rate;
    for (let k = 0; k < lines; k++) {
      this.length[k] = Math.max(8, Math.round((space.lines[k]! * v.size * rate) / 100));
      this.turn[k] = (2 * Math.PI * wanderHz * (1 + 0.17 * k)) / rate;
      const gain = Math.pow(10, (-3 * this.length[k]!) / (v.decay * rate));
      this.gain[k] = gain;
      this.pole[k] = designDamping(gain, cos);
    }
    this.lowPole = Math.exp((-2 * Math.PI * lowFrom) / rate);
    this.lowWorks = v.lowDecay !== 100;
    for (let k = 0; k < lines; k++)
      this.lowGain[k] = Math.pow(10, (-3 * this.length[k]! * (100 / v.lowDecay - 1)) / (v.decay * rate)) - 1;
    const cut = designButterworth("high", v.lowCut, 2, rate);
    for (const filter of this.cuts) filter.set(cut);
  }
  /** Frames by which what comes in waits. Range 0 to `longestPredelay`. */
  wait(frames: number): void {
    this.preFrames = frames;
  }
  /** Another kind of space: its diffusers begin empty. */
  private build(kind: SpaceKind, space: Kind): void {
    this.kind = kind;
    this.diffusion = space.diffusion;
    this.diffuserFrames.forEach((frames, side) => {
      space.diffusers.forEach((s, d) => (frames[d] = Math.round(s * (1 + 0.07 * side) * this.sampleRate)));
      this.diffuserAt[side]!.fill(0);
      for (const ring of this.diffusers[side]!) ring.fill(0);
    });
  }
  reset(): void {
    this.phase.fill(0);
    for (const m of this.memory) m.fill(0);
    for (const side of this.diffusers) for (const d of side) d.fill(0);
    for (const p of this.pre) p.fill(0);
    for (const c of this.cuts) c.reset();
    this.damp.fill(0);
    this.lows.fill(0);
  }

  /** The space goes on ringing. */
  adopt(from: Network): void {
    if (from.sampleRate !== this.sampleRate) return;
    const copy = (to: readonly Float32Array[], other: readonly Float32Array[]) =>
      to.forEach((x, i) => x.set(other[i]!));
    copy(this.memory, from.memory);
    copy(this.pre, from.pre);
    if (from.kind === this.kind) {
      this.diffusers.forEach((side, s) => copy(side, from.diffusers[s]!));
      this.diffuserAt.forEach((at, s) => at.set(from.diffuserAt[s]!));
    }
    this.phase.set(from.phase);
    this.damp.set(from.damp);
    this.lows.set(from.lows);
    this.at = from.at;
    this.preAt = from.preAt;
  }

  /** Low cut, pre-delay and diffusion of one side, into this.feed. */
  private prepareFeed(x: Float32Array, side: number, frames: number): void {
    const y = this.feed[side]!;
    this.cuts[side]!.process(x, y, frames);
    const pre = this.pre[side]!;
    const at = this.diffuserAt[side]!;
    const lengths = this.diffuserFrames[side]!;
    const { diffusion } = this;
    let p = this.preAt;
    for (let i = 0; i < frames; i++) {
      pre[p] = y[i]!;
      let v = pre[(p - this.preFrames + pre.length) % pre.length]!;
      if (++p === pre.length) p = 0;
      for (let d = 0; d < 4; d++) {
        const ring = this.diffusers[side]![d]!;
        const old = ring[at[d]!]!;
        const into = v + diffusion * old;
        ring[at[d]!] = Math.abs(into) < 1e-18 ? 0 : into;
        v = old - diffusion * into;
        if (++at[d]! === lengths[d]!) at[d] = 0;
      }
      y[i] = v;
    }
    if (side === 1) this.preAt = p;
  }

  /** What a line gives while its length wanders, between two frames. */
  private wandering(k: number, at: number): number {
    const line = this.memory[k]!;
    const mask = line.length - 1;
    this.phase[k]! += this.turn[k]!;
    if (this.phase[k]! > 2 * Math.PI) this.phase[k]! -= 2 * Math.PI;
    const late = this.length[k]! + 0.5 * this.depth * (1 + Math.sin(this.phase[k]!));
    const whole = Math.floor(late);
    const a = line[(at - whole) & mask]!;
    return a + (late - whole) * (line[(at - whole - 1) & mask]! - a);
  }

  /** Adds nothing: writes the wet sound of a block. Shape  two channels in, two out. */
  process(input: Planar, wet: readonly [Float64Array, Float64Array], frames: number): void {
    this.prepareFeed(input[0]!, 0, frames);
    this.prepareFeed(input[1]!, 1, frames);
    const mask = this.memory[0]!.length - 1;
    const { tap, damp, gain, length, pole, depth, lows, lowGain, lowPole, lowWorks } = this;
    const [feedLeft, feedRight] = this.feed as [Float32Array, Float32Array];
    let at = this.at;
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (let k = 0; k < lines; k++) {
        const raw = depth > 0 ? this.wandering(k, at) : this.memory[k]![(at - length[k]!) & mask]!;
        damp[k] = raw + pole[k]! * (damp[k]! - raw);
        if (Math.abs(damp[k]!) < 1e-18) damp[k] = 0;
        tap[k] = gain[k]! * damp[k]!;
        if (lowWorks) {
          lows[k] = tap[k]! + lowPole * (lows[k]! - tap[k]!);
          if (Math.abs(lows[k]!) < 1e-18) lows[k] = 0;
          tap[k]! += lowGain[k]! * lows[k]!;
        }
        sum += tap[k]!;
      }
      sum *= 2 / lines;
      for (let k = 0; k < lines; k++)
        this.memory[k]![at] = tap[k]! - sum + 0.5 * (k % 2 === 0 ? feedLeft[i]! : feedRight[i]!);
      wet[0][i] = 0.5 * (tap[0]! - tap[2]! + tap[4]! - tap[6]!);
      wet[1][i] = 0.5 * (tap[1]! - tap[3]! + tap[5]! - tap[7]!);
      at = (at + 1) & mask;
    }
    this.at = at;
  }
}
