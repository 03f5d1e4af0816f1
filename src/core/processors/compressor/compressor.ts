import { laneFrames } from "../../lanes/laneMemory";
import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade, designShelf, type Section } from "../../signal/biquad";
import { detectorBand, detectorSections } from "../detectorBand";
import { fastDb, fastGain } from "../../signal/fastMath";
import { DelayLine, WaitLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { turn } from "../../signal/midSide";

export const compressorParams = {
  threshold: number("Threshold", "dB", -60, 0, -20, "Level above which it turns down."),
  ratio: number("Ratio", ":1", 1, 30, 4, "Input change in dB for 1 dB more at the output.", "log"),
  knee: number("Knee", "dB", 0, 24, 6, "Width of the bend around the threshold."),
  attack: number("Attack", "s", 0.00005, 0.2, 0.005, "Time to reach 63 % of the reduction.", "log"),
  release: number("Release", "s", 0.005, 3, 0.15, "Time to give back 63 % of it.", "log"),
  makeup: number("Make-up", "dB", -12, 30, 0, "Gain after it."),
  mix: number("Mix", "%", 0, 100, 100, "Share of the compressed signal."),
  range: number("Most reduction", "dB", 0, 100, 100, "It never turns down by more."),
  hold: number("Hold", "s", 0, 0.5, 0, "Time for which a reduction stays before it is given back."),
  releases: choice(
    "Release",
    ["even", "programme"],
    "Programme: after long reductions it comes back eight times slower.",
  ),
  works: choice(
    "Works",
    ["forward", "feedback"],
    "Feedback listens behind the gain: faster the deeper it works, gentle where it begins.",
  ),
  detector: choice(
    "Detector",
    ["peak", "RMS", "both"],
    "Follows peaks, the mean power over 10 ms, or what is larger of both.",
  ),
  ...detectorBand(2000, 200),
  tilt: number("Detector tilt", "dB", -12, 12, 0, "Lifts what the detector hears above 1 kHz."),
  lookahead: number("Look-ahead", "s", 0, 0.005, 0, "How long before a sound it begins to turn down."),
  side: choice(
    "Of a pair",
    ["both", "mid", "side"],
    "Turns down both sides together, or only their mid or side.",
  ),
} as const satisfies ParamTable;
export type CompressorValues = ParamValues<typeof compressorParams>;
type Values = CompressorValues;

/**
 * Output level of the static curve. Units: all dB.
 * Source  Giannoulis, Massberg, Reiss, J. Audio Eng. Soc. 60(6), 2012, eq. 4 (soft knee).
 */
export function compressedLevel(x: number, threshold: number, ratio: number, knee: number): number {
  const over = x - threshold;
  if (2 * over < -knee) return x;
  if (2 * Math.abs(over) <= knee && knee > 0)
    return x + ((1 / ratio - 1) * (over + knee / 2) ** 2) / (2 * knee);
  return threshold + over / ratio;
}

/** Frames by which it is late, so that the longest look-ahead is there: whole blocks, at which values of sections take hold. */
export const compressorLatency = (sampleRate: number): number =>
  laneFrames * Math.ceil((compressorParams.lookahead.max * sampleRate) / laneFrames);

/** Frequency above which the tilt of the detector lifts, Hz. */
const tiltFrom = 1000;
/** How much slower a long reduction is given back by the programme. */
const programmeTimes = 8;

const tiltedSections = (v: Values, rate: number): Section[] => [
  ...detectorSections(v, rate),
  ...(v.tilt !== 0 ? [designShelf("high", tiltFrom, v.tilt, 0.5, rate)] : []),
];
/** Most sections of the detector's filter. */
export const detectorPlaces = 3;

/**
 * Pole of a smoother whose detector listens behind the gain. With the loop closed, a step of the smoother is solved for the
 * reduction itself: the static curve stays, its local ratio divides the time.
 * Shape   `slope`: dB of reduction for one dB of level, below 1. Source: implicit step of Giannoulis 2012, fig. 7, with
 *         L - g at the detector and (R - 1) instead of (1 - 1/R); derived here.
 */
export const feedbackPole = (pole: number, slope: number): number =>
  pole / (1 + ((1 - pole) * slope) / (1 - slope));

/** What the values of a compressor mean to its loop. Levels in dB, poles per frame. Pure. */
export function designCompressor(v: Values, rate: number) {
  const slope = 1 - 1 / v.ratio;
  return {
    slope,
    /** Level at which the knee begins. */
    bend: v.threshold - v.knee / 2,
    knee: v.knee,
    /** Reduction is curve times the square of the level over the bend, within the knee. */
    curve: v.knee > 0 ? slope / (2 * v.knee) : 0,
    up: Math.exp(-1 / (v.attack * rate)),
    down: Math.exp(-1 / (v.release * rate)),
    average: Math.exp(-1 / (0.01 * rate)),
    makeup: v.makeup,
    wet: v.mix / 100,
    rms: v.detector !== "peak",
    both: v.detector === "both",
    range: v.range,
    hold: Math.round(v.hold * rate),
    programme: v.releases === "programme",
    slowly: Math.exp(-1 / (programmeTimes * v.release * rate)),
    feedback: v.works === "feedback",
    /** Frames by which the detector waits. */
    wait: compressorLatency(rate) - Math.round(v.lookahead * rate),
    ahead: v.lookahead > 0,
    side: v.side,
    /** Detector's filter. */
    sections: tiltedSections(v, rate),
  };
}

/**
 * Compressor, gain computed in dB, then smoothed (smooth branching detector in the log domain).
 * Channels share one detector. Of mid or side alone it hears only that, unless a key is there, and turns only that down.
 * Latency `compressorLatency`, whatever the look-ahead; 0 when made without one.
 * Source  Giannoulis, Massberg, Reiss 2012, fig. 7c and eq. 17; make-up and mix common practice.
 */
export class Compressor implements Processor<Values> {
  latency = 0;
  reductionDb = 0;
  private sampleRate = 0;
  private filters: Cascade[] = [];
  private heard: Float32Array[] = [];
  private design!: ReturnType<typeof designCompressor>;
  private power = 0;
  private gr = 0;
  /** Frames that the hold still lasts. */
  private held = 0;
  /** What the programme has asked for in the long run, dB. */
  private slow = 0;
  private lines: DelayLine[] = [];
  private waits: WaitLine[] = [];

  constructor(private readonly looksAhead = true) {}

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.latency = this.looksAhead ? compressorLatency(sampleRate) : 0;
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.waits = [new WaitLine(this.latency), new WaitLine(this.latency)];
    this.filters = [new Cascade(detectorPlaces), new Cascade(detectorPlaces)];
    this.heard = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: Values): void {
    this.design = designCompressor(v, this.sampleRate);
    for (const filter of this.filters) filter.set(this.design.sections);
    if (this.looksAhead) for (const wait of this.waits) wait.frames = this.design.wait;
  }
  reset(): void {
    for (const one of [...this.filters, ...this.lines, ...this.waits]) one.reset();
    this.power = 0;
    this.gr = 0;
    this.held = 0;
    this.slow = 0;
  }
  adopt(from: Processor<Values>): void {
    if (!(from instanceof Compressor)) return;
    this.power = from.power;
    this.gr = from.gr;
    this.held = from.held;
    this.slow = from.slow;
  }

  /** What the detector hears of a block, as late as it waits, in `heard`; gives the number of its channels. */
  private hear(source: Planar, turned: boolean, frames: number): number {
    const { heard, filters, waits } = this;
    for (let ch = 0; ch < source.length; ch++) {
      filters[ch]!.process(source[ch]!, heard[ch]!, frames);
      waits[ch]!.process(heard[ch]!, frames);
    }
    if (!turned) return source.length;
    turn(heard, 0.5, frames);
    if (this.design.side === "side") heard[0]!.set(heard[1]!.subarray(0, frames));
    return 1;
  }
  process(input: Planar, output: Planar, frames: number, { key }: ProcessContext): void {
    const turned = input.length > 1 && this.design.side !== "both";
    const two = this.hear(key ?? input, turned && key === null, frames) > 1;
    const first = this.heard[0]!;
    const second = this.heard[two ? 1 : 0]!;
    for (let ch = 0; ch < input.length; ch++) this.lines[ch]!.process(input[ch]!, output[ch]!, frames);
    if (turned) turn(output, 0.5, frames);
    const from = turned && this.design.side === "side" ? 1 : 0;
    const to = turned && this.design.side === "mid" ? 1 : input.length;
    const { bend, knee, slope, curve, makeup, wet, rms, both, up, down, average } = this.design;
    const { range, hold, programme, slowly, feedback } = this.design;
    const bendLevel = dbToGain(bend);
    const dry = 1 - wet;
    const restGain = dry + wet * fastGain(makeup);
    let { power, gr, held, slow } = this;
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      let level = Math.max(Math.abs(first[i]!), Math.abs(second[i]!));
      if (rms) {
        const square = two ? 0.5 * (first[i]! * first[i]! + second[i]! * second[i]!) : level * level;
        power = square + average * (power - square);
        if (power < 1e-18) power = 0;
        level = both ? Math.max(level, Math.sqrt(power)) : Math.sqrt(power);
      }
      let wanted = 0;
      let local = 0; // dB of reduction for one dB of level
      if (level > bendLevel) {
        const over = fastDb(level) - bend;
        if (over > 0) {
          wanted = over >= knee ? slope * (over - knee / 2) : curve * over * over;
          local = over >= knee ? slope : 2 * curve * over;
        }
        if (wanted > range) wanted = range;
      }
      const rises = wanted > gr;
      if (rises || wanted === gr) held = hold;
      else if (held > 0) held--;
      slow = wanted + slowly * (slow - wanted);
      if (slow < 1e-4) slow = 0;
      if (rises || held === 0) {
        const pole = rises ? up : down;
        const target = programme && !rises ? Math.max(wanted, Math.min(slow, gr)) : wanted;
        gr = target + (feedback ? feedbackPole(pole, local) : pole) * (gr - target);
      }
      if (gr < 1e-4) gr = 0; // a ten-thousandth of a dB is not heard
      if (gr > deepest) deepest = gr;
      const gain = gr === 0 ? restGain : dry + wet * fastGain(makeup - gr);
      for (let ch = from; ch < to; ch++) output[ch]![i]! *= gain;
    }
    if (turned) turn(output, 1, frames);
    this.power = power;
    this.gr = gr;
    this.held = held;
    this.slow = slow;
    this.reductionDb = deepest;
  }
}
