import { choice, number, type NumberParam, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade } from "../../signal/biquad";
import { ascending, designBands } from "../../signal/crossover";
import { fastDb, fastGain } from "../../signal/fastMath";
import { HitCursor } from "../../signal/hitCursor";
import { SlidingMax } from "../../signal/slidingMax";
import { SILENT, WHOLE_DB } from "./rows";

/** Most bands. */
export const mostBands = 3;
const upper = <N extends 2 | 3>(band: N) =>
  ({
    [`attack${band}`]: number(
      `Band ${band}: attack`,
      "dB",
      -24,
      24,
      0,
      "Lifts or lowers the attack of this band.",
    ),
    [`sustain${band}`]: number(
      `Band ${band}: sustain`,
      "dB",
      -24,
      24,
      0,
      "Lifts or lowers the tail of this band.",
    ),
  }) as Record<`attack${N}` | `sustain${N}`, NumberParam>;

export const transientParams = {
  attack: number("Attack", "dB", -24, 24, 0, "Lifts or lowers the first milliseconds of every stroke."),
  attackTime: number("Attack time", "s", 0.001, 0.1, 0.015, "How long the attack counts.", "log"),
  sustain: number("Sustain", "dB", -24, 24, 0, "Lifts or lowers what rings behind it."),
  sustainTime: number(
    "Sustain time",
    "s",
    0.02,
    1.5,
    0.25,
    "How slowly a tail may decay and still count.",
    "log",
  ),
  opens: choice(
    "Finds strokes",
    ["level", "hits"],
    "By the shape of the level, or at the strokes that were found.",
  ),
  bands: choice("Bands", ["1", "2", "3"], "Attack and sustain of each band by itself."),
  cross1: number("Crossover 1", "Hz", 40, 12000, 200, "Where the lowest band ends, 6 dB down.", "log"),
  cross2: number("Crossover 2", "Hz", 40, 12000, 3000, "Where the highest of three bands begins.", "log"),
  ...upper(2),
  ...upper(3),
  output: number("Output", "dB", -24, 24, 0, "Gain after it."),
} as const satisfies ParamTable;
export type TransientValues = ParamValues<typeof transientParams>;

/** The detector holds peaks that long, s: half a period of 42 Hz, so that a low drum does not ripple through. */
const holdSeconds = 0.012;
/** Release of the envelope that follows the sound itself, s. */
const closeRelease = 0.01;
/** Time in which the gain moves, s: strokes at known places would step otherwise. */
const moveSeconds = 0.0002;

/** What one band asks for. dB, and the time constants of its envelopes as poles. */
interface Wish {
  readonly attack: number;
  readonly sustain: number;
}

/** Frames for which peaks are held. */
export const heldFrames = (sampleRate: number): number => Math.ceil(holdSeconds * sampleRate);

/** What the parameters come to: wishes of all bands, poles of the envelopes, filters of the bands that are used. */
export function designTransient(v: TransientValues, sampleRate: number) {
  const pole = (seconds: number) => Math.exp(-1 / (seconds * sampleRate));
  const wishes: Wish[] = [
    { attack: v.attack, sustain: v.sustain },
    { attack: v.attack2, sustain: v.sustain2 },
    { attack: v.attack3, sustain: v.sustain3 },
  ];
  return {
    wishes,
    bands: designBands(ascending([v.cross1, v.cross2].slice(0, Number(v.bands) - 1)), sampleRate),
    rise: pole(v.attackTime),
    tail: pole(v.sustainTime),
    fall: pole(closeRelease),
    move: pole(moveSeconds),
    byHits: v.opens === "hits",
    attackTime: v.attackTime,
    sustainTime: v.sustainTime,
    output: v.output,
  };
}
export type TransientDesign = ReturnType<typeof designTransient>;

/** What is left of the attack so long after a stroke that is known, s; Infinity: none was. 0..1. */
export const attackLeft = (d: TransientDesign, since: number): number => Math.exp(-since / d.attackTime);
/** What is left of its tail. 0..1. */
export const tailLeft = (d: TransientDesign, since: number): number => Math.exp(-since / (4 * d.sustainTime));

/** Follows the envelopes of one band and the gain that they ask for. */
class BandShaper {
  private held = new SlidingMax(1);
  /** Envelopes: following the sound, rising slowly, falling slowly. */
  private near = 0;
  private slow = 0;
  private long = 0;
  gainDb = 0;
  /** The held peak of the last frame. */
  peak = 0;

  constructor(private readonly hold: number) {
    this.held = new SlidingMax(hold);
  }
  reset(): void {
    this.held.reset();
    this.near = 0;
    this.slow = 0;
    this.long = 0;
    this.gainDb = 0;
    this.peak = 0;
  }
  adopt(from: BandShaper): void {
    this.near = from.near;
    this.slow = from.slow;
    this.long = from.long;
    this.gainDb = from.gainDb;
  }
  hear(level: number): void {
    this.peak = this.held.next(level, this.hold);
  }
  /** Gain by the shape of the level, dB. */
  byLevel({ attack, sustain }: Wish, { rise, fall, tail }: TransientDesign): number {
    const held = this.peak;
    this.near = held > this.near ? held : held + fall * (this.near - held);
    this.slow = held > this.slow ? held + rise * (this.slow - held) : held + fall * (this.slow - held);
    this.long = held > this.long ? held : held + tail * (this.long - held);
    let wanted = 0;
    if (attack !== 0) wanted += attack * share(this.near, this.slow);
    if (sustain !== 0) wanted += sustain * share(this.long, this.near);
    return wanted;
  }
  /** Moves the gain towards what is wanted. */
  move(wanted: number, pole: number): void {
    const moved = wanted + pole * (this.gainDb - wanted);
    this.gainDb = Math.abs(moved) < 1e-6 ? 0 : moved;
  }
}

/**
 * Lifts or lowers attacks and tails of strokes whatever their level: the gain hangs on the distance in dB between envelopes
 * of one signal, which loud and soft strokes share. Attack: an envelope that rises at once against one that needs the attack
 * time. Sustain: an envelope that decays slowly against one that follows. Of several bands each has envelopes of its own; at
 * rest they sum to an all-pass. What is lifted stays under full scale. Channels share their gains. Latency 0.
 * Source  difference of envelopes: common practice, no source; here of held peaks and limited at `WHOLE_DB`.
 */
export class Transient implements Processor<TransientValues> {
  readonly latency = 0;
  private rate = 0;
  private readonly cursor = new HitCursor();
  private design!: TransientDesign;
  private shapers: BandShaper[] = [];
  /** [band][channel] */
  private filters: Cascade[][] = [];
  private split: Float32Array[][] = [];

  prepare({ sampleRate, channels, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    const each = <T>(count: number, make: () => T): T[] => Array.from({ length: count }, make);
    this.shapers = each(mostBands, () => new BandShaper(heldFrames(sampleRate)));
    this.filters = each(mostBands, () => each(channels, () => new Cascade(2 * (mostBands - 1))));
    this.split = each(mostBands, () => each(channels, () => new Float32Array(maxFrames)));
  }
  set(v: TransientValues): void {
    this.design = designTransient(v, this.rate);
    this.design.bands.forEach((sections, band) => {
      for (const filter of this.filters[band]!) filter.set(sections);
    });
  }
  reset(): void {
    for (const one of [...this.shapers, ...this.filters.flat()]) one.reset();
  }
  adopt(from: Processor<TransientValues>): void {
    if (!(from instanceof Transient)) return;
    this.shapers.forEach((shaper, band) => shaper.adopt(from.shapers[band]!));
  }

  process(input: Planar, output: Planar, frames: number, { hits, position }: ProcessContext): void {
    const { design, shapers } = this;
    const { move, byHits, wishes } = design;
    const count = design.bands.length;
    const bands = count > 1 ? this.split : null;
    for (let b = 0; bands && b < count; b++)
      for (let ch = 0; ch < input.length; ch++)
        this.filters[b]![ch]!.process(input[ch]!, bands[b]![ch]!, frames);
    for (let i = 0; i < frames; i++) {
      const since = byHits ? (position + i - this.cursor.latest(hits, position + i)) / this.rate : 0;
      const fresh = byHits ? attackLeft(design, since) : 0;
      const tail = byHits ? tailLeft(design, since) : 0;
      let peaks = 0;
      let lifted = false;
      for (let b = 0; b < count; b++) {
        const shaper = shapers[b]!;
        const band = bands ? bands[b]! : input;
        let level = Math.abs(band[0]![i]!);
        for (let ch = 1; ch < input.length; ch++) level = Math.max(level, Math.abs(band[ch]![i]!));
        shaper.hear(level);
        peaks += shaper.peak;
        const wish = wishes[b]!;
        const struck = byHits ? wish.attack * fresh + wish.sustain * (1 - fresh) * tail : 0;
        shaper.move(byHits ? struck : shaper.byLevel(wish, design), move);
        if (shaper.gainDb > 0) lifted = true;
      }
      // A lift ends at full scale: the held peaks of all bands together are never below the frame itself.
      const room = lifted && peaks > SILENT ? Math.max(0, -fastDb(peaks)) : Infinity;
      if (!bands) {
        const gain = gainOf(Math.min(shapers[0]!.gainDb, room) + design.output);
        for (let ch = 0; ch < input.length; ch++) output[ch]![i] = input[ch]![i]! * gain;
        continue;
      }
      for (let ch = 0; ch < input.length; ch++) output[ch]![i] = 0;
      for (let b = 0; b < count; b++) {
        const gain = gainOf(Math.min(shapers[b]!.gainDb, room) + design.output);
        for (let ch = 0; ch < input.length; ch++) output[ch]![i]! += bands[b]![ch]![i]! * gain;
      }
    }
  }
}

const gainOf = (db: number): number => (db === 0 ? 1 : fastGain(db));

/** Distance of two envelopes as a share of `WHOLE_DB`, 0..1. */
function share(above: number, below: number): number {
  if (above < SILENT || above <= below) return 0;
  if (below <= 0) return 1;
  return Math.min(1, fastDb(above / below) / WHOLE_DB);
}
