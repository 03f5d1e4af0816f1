import { predelayParams, predelaySeconds } from "../predelay";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { dbToGain } from "../../signal/level";
import { EarlyReflections } from "./earlyReflections";
import { Network, spaceKinds } from "./network";
import { TailGate } from "./tailGate";

export const reverbParams = {
  kind: choice("Space", spaceKinds, "How dense it is and how it builds up: a plate at once, a hall slowly."),
  decay: number("Decay", "s", 0.1, 6, 0.7, "Time to fall by 60 dB (T60).", "log"),
  lowDecay: number("Low decay", "%", 25, 250, 100, "Decay of what lies below 200 Hz, of the decay."),
  size: number("Size", "%", 10, 100, 45, "Spacing of the walls."),
  predelay: number("Pre-delay", "s", 0, 0.1, 0.008, "Time before the room answers."),
  ...predelayParams,
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
  width: number("Width", "%", 0, 150, 100, "Sides of the space against its middle; 0 is mono."),
  early: number(
    "Early reflections",
    "dB",
    -60,
    6,
    -60,
    "First answers of the walls; at its end there are none.",
  ),
  roomWidth: number("Walls left to right", "m", 2, 30, 7, "How wide the room of the early reflections is."),
  roomDepth: number("Walls front to back", "m", 2, 40, 9, "How deep it is."),
  roomHeight: number("Ceiling", "m", 2, 15, 3.2, "How high it is."),
  distance: number(
    "Distance",
    "m",
    0.5,
    15,
    3,
    "From the kit to where one listens; far away walls answer nearly at once.",
  ),
  tailGate: choice(
    "Gate on the tail",
    ["off", "level", "hits"],
    "Cuts the tail off behind strokes: by the level that comes in, or the key's, or at strokes that were found.",
  ),
  tailThreshold: number("Gate threshold", "dB", -60, 0, -30, "Level that opens it."),
  tailHold: number("Gate hold", "s", 0.01, 2, 0.25, "How long it stays open.", "log"),
  tailRelease: number("Gate release", "s", 0.002, 1, 0.03, "Time to close to 37 %.", "log"),
  mix: number("Mix", "%", 0, 100, 100, "Share of the room; 100 % on a bus of its own."),
} as const satisfies ParamTable;
type Values = ParamValues<typeof reverbParams>;

/** Level at which early reflections are off, dB. */
const earlyOff = reverbParams.early.min;
/** Time over which what comes in goes from one space to another, s. */
const changeSeconds = 0.05;

/**
 * Space of a kind, with early reflections of a room, a width, and a gate on its tail. When the kind changes, the former space rings
 * out while what comes in is faded over to the new one.
 * Shape   one or two channels in, two out. Latency 0.
 * Checked reverb.test.ts: Schroeder integration (JASA 37, 1965), T60 within 10 % by octave.
 */
export class Reverb implements Processor<Values> {
  readonly latency = 0;
  private rate = 0;
  private networks: [Network, Network] = [new Network(), new Network()];
  /** Which of them what comes in goes to. */
  private active = 0;
  private v: Values | null = null;
  /** Frames for which the former one still rings, and those since the change. */
  private leaving = 0;
  private changed = 0;
  private readonly early = new EarlyReflections();
  private readonly gate = new TailGate();
  private readonly inputs: Float32Array[] = [];
  private faded: Float32Array[] = [];
  private wet: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];
  private former: [Float64Array, Float64Array] = [new Float64Array(0), new Float64Array(0)];

  prepare(format: StreamFormat): void {
    const { sampleRate, maxFrames } = format;
    this.rate = sampleRate;
    for (const network of this.networks) network.prepare(format);
    this.early.prepare(sampleRate);
    this.gate.prepare(sampleRate);
    this.faded = [0, 1, 2, 3].map(() => new Float32Array(maxFrames));
    this.wet = [new Float64Array(maxFrames), new Float64Array(maxFrames)];
    this.former = [new Float64Array(maxFrames), new Float64Array(maxFrames)];
  }
  set(v: Values): void {
    const before = this.v;
    this.v = v;
    if (before && before.kind !== v.kind) {
      this.leaving = Math.ceil(1.2 * before.decay * Math.max(1, before.lowDecay / 100) * this.rate);
      this.changed = 0;
      this.active = 1 - this.active;
      this.networks[this.active]!.reset();
    }
    this.networks[this.active]!.set(v);
    this.early.set(v);
    this.gate.set(v);
  }
  reset(): void {
    for (const one of [...this.networks, this.early, this.gate]) one.reset();
    this.leaving = 0;
  }
  adopt(from: Processor<Values>): void {
    if (!(from instanceof Reverb)) return;
    this.networks[this.active]!.adopt(from.networks[from.active]!);
    this.early.adopt(from.early);
    this.gate.adopt(from.gate);
  }

  /** The wet sound of a block from the spaces. */
  private ring(frames: number): void {
    const { inputs, faded, wet, former } = this;
    const now = this.networks[this.active]!;
    if (this.leaving <= 0) return now.process(inputs, wet, frames);
    const whole = changeSeconds * this.rate;
    for (let ch = 0; ch < 2; ch++)
      for (let i = 0; i < frames; i++) {
        const share = Math.min(1, (this.changed + i) / whole);
        faded[ch]![i] = share * inputs[ch]![i]!;
        faded[2 + ch]![i] = (1 - share) * inputs[ch]![i]!;
      }
    now.process(faded, wet, frames);
    faded.push(faded.shift()!, faded.shift()!);
    this.networks[1 - this.active]!.process(faded, former, frames);
    faded.push(faded.shift()!, faded.shift()!);
    for (let ch = 0; ch < 2; ch++) for (let i = 0; i < frames; i++) wet[ch]![i]! += former[ch]![i]!;
    this.changed += frames;
    this.leaving -= frames;
  }
  process(input: Planar, output: Planar, frames: number, context: ProcessContext): void {
    const v = this.v!;
    const { wet, inputs } = this;
    const waits = Math.round(this.rate * predelaySeconds(v, context.beats, this.rate));
    for (const network of this.networks) network.wait(waits);
    inputs[0] = input[0]!;
    inputs[1] = input[input.length > 1 ? 1 : 0]!;
    this.ring(frames);
    if (v.early > earlyOff) this.early.add(inputs, wet, dbToGain(v.early), frames);
    else this.early.rest();
    if (v.width !== 100) narrow(wet, v.width / 100, frames);
    if (v.tailGate !== "off") this.gate.process(inputs, wet, frames, context);
    const share = v.mix / 100;
    for (let i = 0; i < frames; i++) {
      const [left, right] = [inputs[0][i]!, inputs[1][i]!];
      output[0]![i] = left + share * (wet[0][i]! - left);
      output[1]![i] = right + share * (wet[1][i]! - right);
    }
  }
}

/** Sides of a pair against its middle, in place. */
function narrow([left, right]: readonly [Float64Array, Float64Array], width: number, frames: number): void {
  for (let i = 0; i < frames; i++) {
    const mid = 0.5 * (left[i]! + right[i]!);
    const side = 0.5 * width * (left[i]! - right[i]!);
    left[i] = mid + side;
    right[i] = mid - side;
  }
}
