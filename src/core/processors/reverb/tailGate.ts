import type { Planar, ProcessContext } from "../../processor";
import { HitCursor } from "../../signal/hitCursor";
import { dbToGain } from "../../signal/level";

interface Values {
  readonly tailGate: "off" | "level" | "hits";
  readonly tailThreshold: number;
  readonly tailHold: number;
  readonly tailRelease: number;
}
/** Time constant of its opening, s. */
const attackSeconds = 0.001;

/** Holds a tail open for a time behind every stroke and closes it then. */
export class TailGate {
  private rate = 0;
  private v!: Values;
  private threshold = 1;
  private hold = 0;
  private attack = 0;
  private release = 0;
  private held = 0;
  private gain = 0;
  private readonly cursor = new HitCursor();

  prepare(sampleRate: number): void {
    this.rate = sampleRate;
    this.attack = Math.exp(-1 / (attackSeconds * sampleRate));
  }
  set(v: Values): void {
    this.v = v;
    this.threshold = dbToGain(v.tailThreshold);
    this.hold = Math.round(v.tailHold * this.rate);
    this.release = Math.exp(-1 / (v.tailRelease * this.rate));
  }
  reset(): void {
    this.held = 0;
    this.gain = 0;
  }
  adopt(from: TailGate): void {
    this.held = from.held;
    this.gain = from.gain;
  }
  /** In place over what rings; it listens to the key, else to what comes in. */
  process(
    input: Planar,
    wet: readonly Float64Array[],
    frames: number,
    { key, hits, position }: ProcessContext,
  ): void {
    const source = key ?? input;
    const byHits = this.v.tailGate === "hits";
    for (let i = 0; i < frames; i++) {
      let opens = false;
      if (byHits) opens = position + i - this.cursor.latest(hits, position + i) < 1;
      else for (let ch = 0; ch < source.length; ch++) opens ||= Math.abs(source[ch]![i]!) >= this.threshold;
      if (opens) this.held = this.hold;
      else if (this.held > 0) this.held--;
      const goal = this.held > 0 ? 1 : 0;
      this.gain = goal + (goal ? this.attack : this.release) * (this.gain - goal);
      if (this.gain < 1e-6) this.gain = 0;
      for (let ch = 0; ch < wet.length; ch++) wet[ch]![i]! *= this.gain;
    }
  }
}
