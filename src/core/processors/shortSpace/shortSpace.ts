import { longestPredelay, predelayParams, predelaySeconds } from "../predelay";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";
import { randomSource } from "../../signal/random";

export const shortSpaceParams = {
  shape: choice(
    "Shape",
    ["gated", "reversed", "decaying"],
    "Even and then cut off, swelling to its end, or dying away.",
  ),
  length: number("Length", "s", 0.03, 0.4, 0.2, "From the first answer to the last."),
  predelay: number("Pre-delay", "s", 0, 0.1, 0.004, "Time before it answers."),
  ...predelayParams,
  lowCut: number("Low cut", "Hz", 20, 2000, 150, "It gets nothing below.", "log"),
  highCut: number("High cut", "Hz", 1000, 20000, 9000, "It gets nothing above.", "log"),
  width: number("Width", "%", 0, 100, 100, "0: both sides alike; 100: independent of each other."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the space; 100 % on a bus of its own."),
} as const satisfies ParamTable;
export type ShortSpaceValues = ParamValues<typeof shortSpaceParams>;

/** Answers a second and side: from about 1500 on they are heard as smooth noise. */
const density = 1500;
/** A decaying one falls by that in its length, dB; a reversed one rises by half of it. */
const fallDb = 60;
const sides = 2;
/** Frames over which one setting goes into another: no longer than a block, for every block may bring another one. */
const fadeFrames = 128;
const seed = 811;

/** Places and gains of the answers of one side. */
interface Taps {
  count: number;
  readonly at: Int32Array;
  readonly gain: Float64Array;
}

/** Level along the length, t in 0..1, linear. */
function shapeAt(shape: ShortSpaceValues["shape"], t: number): number {
  if (shape === "decaying") return 10 ** ((-fallDb * t) / 20);
  if (shape === "reversed") return 10 ** ((-fallDb * (1 - t)) / 40);
  return 1;
}

/**
 * Short space: single answers of either sign at random places of an even grid, a sparse noise as smooth as white noise,
 * shaped over its length. Nothing rings in it, as nothing comes round twice; its energy is 1.
 * Shape   one or two channels in, two out. Latency 0.
 * Source  velvet noise: Karjalainen, Järveläinen, AES 30th Conference, 2007; Välimäki et al., "Late reverberation synthesis
 *         using filtered velvet noise", Applied Sciences 7(5), 2017. The density is theirs.
 */
export class ShortSpace implements Processor<ShortSpaceValues> {
  readonly latency = 0;
  private rate = 0;
  private most = 0;
  /** Places on the grid and signs, equal for any setting. */
  private places: Float64Array[] = [];
  private signs: Float64Array[] = [];
  private taps: Taps[] = [];
  /** Those before a change, which is faded over; `fading`: frames that are left of it. */
  private before: Taps[] = [];
  private fading = 0;
  private v!: ShortSpaceValues;
  private placed = { shape: "", length: -1, waits: -1 };
  private memory: Float64Array[] = [];
  private mask = 0;
  private write = 0;
  private filters: Cascade[] = [];
  private feed: Float32Array[] = [];
  private sums: Float64Array[] = [];
  private old = new Float64Array(0);
  private wet = 1;
  private cross = 0;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    const { length } = shortSpaceParams;
    this.most = 4 * Math.ceil((length.max * density) / 4);
    const random = randomSource(seed);
    const each = <T>(make: () => T): T[] => Array.from({ length: sides }, make);
    this.places = each(() => Float64Array.from({ length: this.most }, (_, i) => i + random()));
    this.signs = each(() => Float64Array.from({ length: this.most }, () => (random() < 0.5 ? -1 : 1)));
    const noTaps = () => ({ count: 0, at: new Int32Array(this.most), gain: new Float64Array(this.most) });
    this.taps = each(noTaps);
    this.before = each(noTaps);
    const size = 2 ** Math.ceil(Math.log2((length.max + longestPredelay) * sampleRate + maxFrames + 2));
    // Everything is held twice, a whole length apart: a block is read in a row from wherever it begins.
    this.memory = each(() => new Float64Array(2 * size));
    this.mask = size - 1;
    this.filters = each(() => new Cascade(2));
    this.feed = each(() => new Float32Array(maxFrames));
    this.sums = each(() => new Float64Array(maxFrames));
    this.old = new Float64Array(maxFrames);
  }
  set(v: ShortSpaceValues): void {
    this.v = v;
    this.wet = v.mix / 100;
    // Both sides of equal energy, mixed so that their correlation goes from 1 to 0.
    this.cross = 0.5 * (1 - Math.sqrt(v.width / 100));
    const sections = [
      ...designButterworth("high", v.lowCut, 2, this.rate),
      ...designButterworth("low", v.highCut, 2, this.rate),
    ];
    for (const filter of this.filters) filter.set(sections);
  }
  /** Answers at other places: what was is faded into what will be. */
  private place(v: ShortSpaceValues, waits: number): void {
    [this.before, this.taps] = [this.taps, this.before];
    this.fading = fadeFrames;
    const count = Math.min(this.most, Math.max(4, Math.round(v.length * density)));
    this.taps.forEach((taps, side) => {
      let energy = 0;
      for (let i = 0; i < count; i++) {
        const t = this.places[side]![i]! / count;
        taps.at[i] = Math.round((waits + t * v.length) * this.rate);
        taps.gain[i] = this.signs[side]![i]! * shapeAt(v.shape, t);
        energy += taps.gain[i]! ** 2;
      }
      for (let i = 0; i < count; i++) taps.gain[i]! /= Math.sqrt(energy);
      taps.gain.fill(0, count);
      taps.count = count;
    });
  }
  reset(): void {
    this.fading = 0;
    this.placed = { ...this.placed, waits: -1 };
    for (const m of this.memory) m.fill(0);
    for (const filter of this.filters) filter.reset();
    this.write = 0;
  }
  /** What was played goes on sounding. */
  adopt(from: Processor<ShortSpaceValues>): void {
    if (!(from instanceof ShortSpace) || from.rate !== this.rate) return;
    this.memory.forEach((m, side) => m.set(from.memory[side]!.subarray(0, m.length)));
    this.write = from.write;
  }

  /** Sums the answers of one side over a block: one after another along the memory, which is read in a row so. */
  private answer({ count, at, gain }: Taps, memory: Float64Array, sum: Float64Array, frames: number): void {
    const { mask, write } = this;
    sum.fill(0, 0, frames);
    // Four at a time, so that each sum is read and written a quarter as often; the places behind the last have no gain.
    for (let t = 0; t < count; t += 4) {
      const [a, b, c, d] = [gain[t]!, gain[t + 1]!, gain[t + 2]!, gain[t + 3]!];
      const i = (write - at[t]!) & mask;
      const j = (write - at[t + 1]!) & mask;
      const k = (write - at[t + 2]!) & mask;
      const l = (write - at[t + 3]!) & mask;
      for (let n = 0; n < frames; n++)
        sum[n] =
          sum[n]! + (a * memory[i + n]! + b * memory[j + n]! + (c * memory[k + n]! + d * memory[l + n]!));
    }
  }
  private answerSide(side: number, frames: number): void {
    const { fading } = this;
    const [memory, sum] = [this.memory[side]!, this.sums[side]!];
    this.answer(this.taps[side]!, memory, sum, frames);
    if (fading === 0) return;
    this.answer(this.before[side]!, memory, this.old, frames);
    for (let i = 0; i < frames; i++)
      sum[i] = sum[i]! + (Math.max(0, fading - i) / fadeFrames) * (this.old[i]! - sum[i]!);
  }
  process(input: Planar, output: Planar, frames: number, { beats }: ProcessContext): void {
    const waits = predelaySeconds(this.v, beats, this.rate);
    const { shape, length } = this.v;
    if (waits !== this.placed.waits || shape !== this.placed.shape || length !== this.placed.length) {
      this.place(this.v, waits);
      // The first setting is there at once.
      if (this.placed.waits < 0) this.fading = 0;
      this.placed = { shape, length, waits };
    }
    const ins = [input[0]!, input[input.length > 1 ? 1 : 0]!] as const;
    const { memory, mask, cross, wet } = this;
    for (let side = 0; side < sides; side++) {
      const feed = this.feed[side]!;
      this.filters[side]!.process(ins[side]!, feed, frames);
      const held = memory[side]!;
      for (let i = 0; i < frames; i++) {
        const place = (this.write + i) & mask;
        held[place] = feed[i]!;
        held[place + mask + 1] = feed[i]!;
      }
    }
    for (let side = 0; side < sides; side++) this.answerSide(side, frames);
    this.fading = Math.max(0, this.fading - frames);
    const [left, right] = this.sums as [Float64Array, Float64Array];
    for (let i = 0; i < frames; i++) {
      const [a, b] = [left[i]!, right[i]!];
      const [dryLeft, dryRight] = [ins[0][i]!, ins[1][i]!];
      output[0]![i] = dryLeft + wet * (a + cross * (b - a) - dryLeft);
      output[1]![i] = dryRight + wet * (b + cross * (a - b) - dryRight);
    }
    this.write = (this.write + frames) & mask;
  }
}
