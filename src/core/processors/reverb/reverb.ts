import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";

const kinds = ["room", "chamber", "plate", "hall"] as const;

export const reverbParams = {
  kind: choice("Space", kinds, "How dense it is and how it builds up: a plate at once, a hall slowly."),
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
  modulation: number(
    "Modulation",
    "%",
    0,
    100,
    0,
    "Its lines wander slowly, so that no tone stands in a long tail.",
  ),
  lowCut: number("Low cut", "Hz", 20, 1000, 120, "The room gets nothing below.", "log"),
  mix: number("Mix", "%", 0, 100, 100, "Share of the room; 100 % on a bus of its own."),
} as const satisfies ParamTable;
type Values = ParamValues<typeof reverbParams>;

/** Lengths of lines at full size and of diffusers, s, and how strongly these diffuse; without common factors, chosen by us. */
interface Kind {
  readonly lines: readonly number[];
  readonly diffusers: readonly number[];
  readonly diffusion: number;
}
const spaces: Readonly<Record<(typeof kinds)[number], Kind>> = {
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
  /** Lengths of the diffusers, [side][diffuser], frames. */
  private diffuserFrames: Int32Array[] = [];
  private kind: Values["kind"] | null = null;
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
  private wet = 1;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    const size = 2 ** Math.ceil(Math.log2(longestLine * sampleRate + wanders * sampleRate + 3));
    this.memory = Array.from({ length: lines }, () => new Float32Array(size));
    const longest = Math.ceil(longestDiffuser * sampleRate);
    this.diffusers = [0, 1].map(() => Array.from({ length: 4 }, () => new Float32Array(longest)));
    this.diffuserFrames = [new Int32Array(4), new Int32Array(4)];
    this.diffuserAt = [new Int32Array(4), new Int32Array(4)];
    this.pre = [0, 1].map(() => new Float32Array(Math.ceil(0.1 * sampleRate) + 1));
    this.cuts = [new Cascade(1), new Cascade(1)];
    this.feed = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: Values): void {
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
    this.preFrames = Math.round(v.predelay * rate);
    this.wet = v.mix / 100;
    const cut = designButterworth("high", v.lowCut, 2, rate);
    for (const filter of this.cuts) filter.set(cut);
  }
  /** Another kind of space: its diffusers begin empty. */
  private build(kind: Values["kind"], space: Kind): void {
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
  }

  /** The room goes on ringing. */
  adopt(from: Processor<Values>): void {
    if (!(from instanceof Reverb) || from.sampleRate !== this.sampleRate) return;
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

  process(input: Planar, output: Planar, frames: number): void {
    const left = input[0]!;
    const right = input[input.length > 1 ? 1 : 0]!;
    this.prepareFeed(left, 0, frames);
    this.prepareFeed(right, 1, frames);
    const mask = this.memory[0]!.length - 1;
    const { tap, damp, gain, length, pole, depth } = this;
    const [feedLeft, feedRight] = this.feed as [Float32Array, Float32Array];
    let at = this.at;
    for (let i = 0; i < frames; i++) {
      let sum = 0;
      for (let k = 0; k < lines; k++) {
        const raw = depth > 0 ? this.wandering(k, at) : this.memory[k]![(at - length[k]!) & mask]!;
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
