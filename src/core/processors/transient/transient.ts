import { choice, number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { fastDb, fastGain } from "../../signal/fastMath";
import { HitCursor } from "../../signal/hitCursor";
import { SlidingMax } from "../../signal/slidingMax";

export const transientParams = {
  attack: number("Attack", "dB", -24, 24, 0, "Lifts or lowers the first milliseconds of every stroke."),
  attackTime: number("Attack time", "s", 0.001, 0.1, 0.015, "How long the attack counts.", "log"),
  sustain: number("Sustain", "dB", -24, 24, 0, "Lifts or lowers what rings behind it."),
  sustainTime: number("Sustain time", "s", 0.02, 1.5, 0.25, "How slowly a tail may decay and still count.", "log"), // prettier-ignore
  opens: choice("Finds strokes", ["level", "hits"], "By the shape of the level, or at the strokes that were found."), // prettier-ignore
  output: number("Output", "dB", -24, 24, 0, "Gain after it."),
} as const satisfies ParamTable;
export type TransientValues = ParamValues<typeof transientParams>;

/** Distance of the envelopes at which the whole attack or sustain is reached, dB; every stroke that rises so far gets it all. */
export const wholeDb = 12;
/** The detector holds peaks that long, s: half a period of 42 Hz, so that a low drum does not ripple through. */
const holdSeconds = 0.012;
/** Release of the envelope that follows the sound itself, s. */
const closeRelease = 0.01;
/** Time in which the gain moves, s: strokes at known places would step otherwise. */
const moveSeconds = 0.0002;
/** Under this amplitude there is no stroke. */
const silent = 1e-6;

/**
 * Lifts or lowers attacks and tails of strokes whatever their level: the gain hangs on the distance in dB between envelopes
 * of one signal, which loud and soft strokes share. Attack: an envelope that rises at once against one that needs the attack
 * time. Sustain: an envelope that decays slowly against one that follows. What is lifted stays under full scale. Channels
 * share one gain. Latency 0.
 * Source  difference of envelopes: common practice, no source; here of held peaks and limited at `wholeDb`.
 */
export class Transient implements Processor<TransientValues> {
  readonly latency = 0;
  private rate = 0;
  private hold = 1;
  private held = new SlidingMax(1);
  private readonly cursor = new HitCursor();
  private v!: TransientValues;
  private rise = 0;
  private fall = 0;
  private tail = 0;
  private move = 0;
  /** Envelopes: following the sound, rising slowly, falling slowly. */
  private near = 0;
  private slow = 0;
  private long = 0;
  private gainDb = 0;

  prepare({ sampleRate }: StreamFormat): void {
    this.rate = sampleRate;
    this.hold = Math.ceil(holdSeconds * sampleRate);
    this.held = new SlidingMax(this.hold);
    this.fall = Math.exp(-1 / (closeRelease * sampleRate));
    this.move = Math.exp(-1 / (moveSeconds * sampleRate));
  }
  set(v: TransientValues): void {
    this.v = v;
    this.rise = Math.exp(-1 / (v.attackTime * this.rate));
    this.tail = Math.exp(-1 / (v.sustainTime * this.rate));
  }
  reset(): void {
    this.held.reset();
    this.near = 0;
    this.slow = 0;
    this.long = 0;
    this.gainDb = 0;
  }
  adopt(from: Processor<TransientValues>): void {
    if (!(from instanceof Transient)) return;
    this.near = from.near;
    this.slow = from.slow;
    this.long = from.long;
    this.gainDb = from.gainDb;
  }

  /** Shares of attack and sustain, 0..1, by the envelopes. */
  private byLevel(held: number): number {
    const { rise, fall, tail, v } = this;
    this.near = held > this.near ? held : held + fall * (this.near - held);
    this.slow = held > this.slow ? held + rise * (this.slow - held) : held + fall * (this.slow - held);
    this.long = held > this.long ? held : held + tail * (this.long - held);
    const attack = share(this.near, this.slow);
    const sustain = share(this.long, this.near);
    return v.attack * attack + v.sustain * sustain;
  }
  /** The same by the time since the last stroke that is known. */
  private byHits(hits: Float64Array, position: number): number {
    const since = (position - this.cursor.latest(hits, position)) / this.rate;
    if (!Number.isFinite(since)) return 0;
    const attack = Math.exp(-since / this.v.attackTime);
    return this.v.attack * attack + this.v.sustain * (1 - attack) * Math.exp(-since / (4 * this.v.sustainTime));
  } // prettier-ignore

  process(input: Planar, output: Planar, frames: number, { hits, position }: ProcessContext): void {
    const [first, second] = [input[0]!, input[input.length > 1 ? 1 : 0]!];
    const { move, v } = this;
    for (let i = 0; i < frames; i++) {
      const held = this.held.next(Math.max(Math.abs(first[i]!), Math.abs(second[i]!)), this.hold);
      const wanted = v.opens === "hits" ? this.byHits(hits, position + i) : this.byLevel(held);
      let moved = wanted + move * (this.gainDb - wanted);
      if (Math.abs(moved) < 1e-6) moved = 0;
      this.gainDb = moved;
      // A lift ends at full scale: the held peak is never below the frame itself.
      const room = held > silent ? Math.max(0, -fastDb(held)) : Infinity;
      const gainDb = Math.min(moved, room) + v.output;
      const gain = gainDb === 0 ? 1 : fastGain(gainDb);
      for (let ch = 0; ch < input.length; ch++) output[ch]![i] = input[ch]![i]! * gain;
    }
  }
}

/** Distance of two envelopes as a share of `wholeDb`, 0..1. */
function share(above: number, below: number): number {
  if (above < silent || above <= below) return 0;
  if (below <= 0) return 1;
  return Math.min(1, fastDb(above / below) / wholeDb);
}
