import { longestPredelay, predelayParams, predelaySeconds } from "../predelay";
import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade, designButterworth } from "../../signal/biquad";
import { WaitLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { Convolver, type PartitionedResponse } from "../../signal/partitionedResponse";

/** Ends at which the filters are open, Hz. */
const [lowest, highest] = [20, 20000];
export const recordedSpaceParams = {
  level: number("Level", "dB", -48, 24, 0, "Level of the space."),
  predelay: number("Pre-delay", "s", 0, 0.2, 0, "Time before the space answers."),
  ...predelayParams,
  lowCut: number(
    "Low cut",
    "Hz",
    lowest,
    1000,
    lowest,
    "The space gets nothing below; at its end it is open.",
    "log",
  ),
  highCut: number(
    "High cut",
    "Hz",
    1000,
    highest,
    highest,
    "The space gets nothing above; at its end it is open.",
    "log",
  ),
  width: number("Width", "%", 0, 150, 100, "Sides of the space against its middle; 0 is mono."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the space; 100 % on a bus of its own."),
} as const satisfies ParamTable;
/** Time over which what comes in goes from one response to another, s. */
const changeSeconds = 0.05;
export type RecordedSpaceValues = ParamValues<typeof recordedSpaceParams>;

/**
 * Convolves with an impulse response that was recorded: left with its first channel, right with its second, or both with the only one.
 * Without a response the space is silent. When another one is chosen, the former rings out while what comes in is faded over.
 * Shape   one or two channels in, two out. Latency 0.
 * Checked recordedSpace.test.ts: scipy.signal.fftconvolve to -120 dB.
 */
export class RecordedSpace implements Processor<RecordedSpaceValues> {
  readonly latency = 0;
  private rate = 0;
  private v!: RecordedSpaceValues;
  private convolvers: [Convolver, Convolver] | null = null;
  private filters: Cascade[] = [];
  private waits: WaitLine[] = [];
  private feeds: Float32Array[] = [];
  private wet: Float64Array[] = [];
  private works = false;
  /** The space before, while it rings out: for how many frames still, and how many since the change. */
  private former: [Convolver, Convolver] | null = null;
  private leaving = 0;
  private changed = 0;
  private length = 0;
  private ran = false;
  private faded = new Float32Array(0);
  private rest = new Float64Array(0);

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.filters = [new Cascade(2), new Cascade(2)];
    this.waits = [0, 1].map(() => new WaitLine(Math.ceil(longestPredelay * sampleRate)));
    this.feeds = [0, 1].map(() => new Float32Array(maxFrames));
    this.faded = new Float32Array(maxFrames);
    this.rest = new Float64Array(maxFrames);
    this.wet = [0, 1].map(() => new Float64Array(maxFrames));
  }
  set(v: RecordedSpaceValues): void {
    this.v = v;
    const sections = [
      ...(v.lowCut > lowest ? designButterworth("high", v.lowCut, 2, this.rate) : []),
      ...(v.highCut < highest ? designButterworth("low", v.highCut, 2, this.rate) : []),
    ];
    this.works = sections.length > 0;
    for (const filter of this.filters) filter.set(sections);
  }
  reset(): void {
    for (const one of [...this.filters, ...this.waits, ...(this.convolvers ?? [])]) one.reset();
    this.former = null;
    this.leaving = 0;
    this.ran = false;
  }
  respond(response: PartitionedResponse | null): void {
    const [first, second] = response?.channels ?? [];
    if (this.convolvers && this.ran) {
      this.former = this.convolvers;
      this.leaving = this.length + Math.round(changeSeconds * this.rate);
      this.changed = 0;
    }
    this.convolvers = first ? [new Convolver(first), new Convolver(second ?? first)] : null;
    this.length = response?.frames ?? 0;
  }
  /** Adds the former space, which rings out, to that which comes in. */
  private ringOut(ch: number, frames: number): void {
    const { faded, rest } = this;
    const feed = this.feeds[ch]!;
    const whole = changeSeconds * this.rate;
    for (let i = 0; i < frames; i++) {
      const share = Math.min(1, (this.changed + i) / whole);
      faded[i] = (1 - share) * feed[i]!;
      feed[i]! *= share;
    }
    this.former![ch]!.process(faded, rest, frames);
  }
  process(input: Planar, output: Planar, frames: number, { beats }: ProcessContext): void {
    const { v, feeds, wet, convolvers } = this;
    const waits = Math.round(this.rate * predelaySeconds(v, beats, this.rate));
    for (const wait of this.waits) wait.frames = waits;
    for (let ch = 0; ch < 2; ch++) {
      const x = input[ch < input.length ? ch : 0]!;
      const feed = feeds[ch]!;
      if (this.works) this.filters[ch]!.process(x, feed, frames);
      else feed.set(x.subarray(0, frames));
      this.waits[ch]!.process(feed, frames);
      const rings = this.former !== null && this.leaving > 0;
      if (rings) this.ringOut(ch, frames);
      if (convolvers) convolvers[ch]!.process(feed, wet[ch]!, frames);
      else wet[ch]!.fill(0, 0, frames);
      if (rings) for (let i = 0; i < frames; i++) wet[ch]![i]! += this.rest[i]!;
    }
    this.ran = true;
    this.changed += frames;
    this.leaving -= frames;
    if (this.leaving <= 0) this.former = null;
    const [left, right] = [input[0]!, input[input.length > 1 ? 1 : 0]!];
    const level = dbToGain(v.level);
    const [near, far] = [0.5 * level * (1 + v.width / 100), 0.5 * level * (1 - v.width / 100)];
    const share = v.mix / 100;
    for (let i = 0; i < frames; i++) {
      const [a, b, l, r] = [wet[0]![i]!, wet[1]![i]!, left[i]!, right[i]!];
      output[0]![i] = l + share * (near * a + far * b - l);
      output[1]![i] = r + share * (near * b + far * a - r);
    }
  }
}
