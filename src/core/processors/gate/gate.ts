import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade } from "../../signal/biquad";
import { DelayLine } from "../../signal/delayLine";
import { dbToGain } from "../../signal/level";
import { detectorBand, detectorSections } from "../detectorBand";
import { HitCursor } from "../../signal/hitCursor";

export const gateParams = {
  opens: choice(
    "Opened by",
    ["level", "hits", "both"],
    "The level in the detector, the hits found, or either.",
  ),
  hear: choice(
    "Hear",
    ["gate", "detector"],
    "What comes out: the gated mic, or what its detector hears, to set that by.",
  ),
  threshold: number("Threshold", "dB", -80, 0, -30, "Level in the detector that opens the gate."),
  hysteresis: number("Hysteresis", "dB", 0, 24, 4, "How far below the threshold it closes again."),
  range: number("Range", "dB", 0, 90, 40, "How much quieter it is when closed."),
  attack: number("Attack", "s", 0.00005, 0.05, 0.0003, "Time to open to 63 %.", "log"),
  hold: number("Hold", "s", 0, 1, 0.04, "Shortest time it stays open."),
  release: number("Release", "s", 0.002, 2, 0.08, "Time to close to 37 %.", "log"),
  lookahead: number("Look-ahead", "s", 0, 0.005, 0.002, "How much before the stroke it opens."),
  ...detectorBand(5000, 100),
} as const satisfies ParamTable;
/** Frames over which what is heard changes between the gated mic and its detector. */
export const hearFrames = 256;

export type GateValues = ParamValues<typeof gateParams>;
type Values = GateValues;

/** Longest look-ahead; the gate always has this latency, so that a change of it never moves the drum. Seconds. */
const lookaheadMax = 0.005;
/** Latency of every gate, frames. */
export const gateLatency = (sampleRate: number): number => Math.ceil(lookaheadMax * sampleRate);

/** What the values of a gate mean to its loop. Levels and gains linear, poles per frame. Pure. */
export function designGate(v: Values, rate: number) {
  return {
    /** What the detector hears comes out. */
    detector: v.hear === "detector",
    byLevel: v.opens !== "hits",
    byHits: v.opens !== "level",
    up: dbToGain(v.threshold),
    down: dbToGain(v.threshold - v.hysteresis),
    floor: dbToGain(-v.range),
    attack: Math.exp(-1 / (v.attack * rate)),
    release: Math.exp(-1 / (v.release * rate)),
    /** Frames that a decision waits: latency minus look-ahead. */
    waitFrames: gateLatency(rate) - Math.round(v.lookahead * rate),
    holdFrames: Math.round((v.hold + v.lookahead) * rate),
    /** Detector's filters. */
    sections: detectorSections(v, rate),
  };
}

/**
 * Gate with hysteresis, hold and look-ahead. Channels share one detector: the louder of them, or the key.
 *
 *   input --> delay (5 ms) ----------------------> x gain --> output
 *     '--> high-pass, low-pass --> |x| --> open? --> smooth --^
 *                 '--> delay (5 ms) --> output instead, to be heard
 *
 * Latency 5 ms in whole frames. `reductionDb` is that of the last frame of a block.
 */
export class Gate implements Processor<Values> {
  latency = 0;
  reductionDb = 0;
  private sampleRate = 0;
  private lines: DelayLine[] = [];
  private heardLines: DelayLine[] = [];
  /** Share of the gated mic in what comes out. */
  private share = 1;
  private filters: Cascade[] = [];
  private detector: Float32Array[] = [];
  private level = new Float32Array(0);
  private readonly cursor = new HitCursor();
  private design!: ReturnType<typeof designGate>;
  private gain = 0;
  private open = false;
  private held = 0;

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.sampleRate = sampleRate;
    this.latency = gateLatency(sampleRate);
    this.lines = Array.from({ length: channels }, () => new DelayLine(this.latency));
    this.heardLines = Array.from({ length: 2 }, () => new DelayLine(this.latency));
    this.filters = Array.from({ length: 2 }, () => new Cascade(2));
    this.detector = Array.from({ length: 2 }, () => new Float32Array(maxFrames));
    this.level = new Float32Array(maxFrames);
  }

  set(v: Values): void {
    this.design = designGate(v, this.sampleRate);
    for (const filter of this.filters) filter.set(this.design.sections);
  }

  reset(): void {
    for (const line of [...this.lines, ...this.heardLines]) line.reset();
    this.share = this.design.detector ? 0 : 1;
    for (const filter of this.filters) filter.reset();
    this.gain = this.design.floor;
    this.open = false;
    this.held = 0;
    this.wait.fill(0);
    this.waitAt = 0;
  }

  // What was decided is carried out waitFrames later: latency minus look-ahead.
  private readonly wait = new Uint8Array(2048);
  private waitAt = 0;

  /** Detector level of every frame, linear, into this.level. */
  private detect(source: Planar, frames: number): void {
    const { level } = this;
    level.fill(0, 0, frames);
    for (let ch = 0; ch < Math.min(2, source.length); ch++) {
      const d = this.detector[ch]!;
      this.filters[ch]!.process(source[ch]!, d, frames);
      for (let i = 0; i < frames; i++) {
        const a = Math.abs(d[i]!);
        if (a > level[i]!) level[i] = a;
      }
    }
  }

  /** Fades between the gated mic and what the detector heard. */
  private fade(output: Planar, heard: number, frames: number): void {
    const step = (this.design.detector ? -1 : 1) / hearFrames;
    let { share } = this;
    for (let i = 0; i < frames; i++) {
      share = Math.min(1, Math.max(0, share + step));
      for (let ch = 0; ch < output.length; ch++) {
        const d = this.detector[Math.min(ch, heard - 1)]![i]!;
        output[ch]![i] = d + share * (output[ch]![i]! - d);
      }
    }
    this.share = share;
  }

  process(input: Planar, output: Planar, frames: number, { key, hits, position }: ProcessContext): void {
    const { byLevel, byHits, up, down, floor, attack, release, waitFrames, holdFrames } = this.design;
    const source = key ?? input;
    const apart = this.design.detector || this.share < 1;
    if (byLevel || apart) this.detect(source, frames);
    if (apart)
      for (let ch = 0; ch < Math.min(2, source.length); ch++)
        this.heardLines[ch]!.process(this.detector[ch]!, this.detector[ch]!, frames);
    let latestHit = byHits ? this.cursor.latest(hits, position) : -Infinity;
    for (let ch = 0; ch < input.length; ch++) this.lines[ch]!.process(input[ch]!, output[ch]!, frames);
    let { gain, open, held } = this;
    for (let i = 0; i < frames; i++) {
      if (byHits) latestHit = this.cursor.latest(hits, position + i);
      const level = byLevel ? this.level[i]! : 0;
      if (level >= up || latestHit === position + i || position + i - latestHit < 1) {
        open = true;
        held = holdFrames;
      } else if (held > 0) held--;
      else if (level < down || !byLevel) open = false;
      this.wait[this.waitAt] = open ? 1 : 0;
      const now = this.wait[(this.waitAt - waitFrames) & 2047]!;
      this.waitAt = (this.waitAt + 1) & 2047;
      gain = now ? 1 - attack * (1 - gain) : floor + release * (gain - floor);
      for (let ch = 0; ch < output.length; ch++) output[ch]![i]! *= gain;
    }
    if (apart) this.fade(output, Math.min(2, source.length), frames);
    this.gain = gain;
    this.open = open;
    this.held = held;
    this.reductionDb = -20 * Math.log10(Math.max(gain, 1e-5));
  }
}
