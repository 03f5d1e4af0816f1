import { firstFrom } from "../signal/ascending";
import { Looks, looksAtOnce } from "../bleed/looks";
import { Separation } from "../bleed/separate";
import { laneFrames } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { cancelLatency, type CancelValues } from "../processors/cancel/cancel";
import { processorType } from "../processors";
import { bleedBands } from "../signal/bleedBands";
import { dbToGain, gainToDb } from "../signal/level";
import type { Mic, Piece, ProcessorState, Song } from "../song/song";
import { cutsOfMic, cutTime } from "./cuts";
import { History } from "./history";
import type { PositionLine } from "./positionLine";
import type { SectionMap } from "./sectionValues";
import { SlotHandle } from "./slotHandle";
import { hitFrames } from "./timeline";

/** Frames over which a mic fades to its cancelled side when it is switched. */
const switchFrames = 256;
/** How long a stroke itself lasts, s: what follows is its ring. */
const strokeLasts = 0.08;
/** Share of the decibels that are taken under a drum's own strokes. */
const takenUnderStrokes = 0.1;
/** From so long behind a stroke on, s, what is left of it is worth less than calm: more is taken than the share of the others. */
const strokeFades = 0.15;
/** Over-subtraction of what is taken then, in dB (Berouti, Schwartz, Makhoul, ICASSP 1979); a snare has ghost notes. */
const takenAtRest = (piece: Piece): number => (piece === "snare" ? 1.5 : 2);
/** How long a shell may sound after a stroke, s. */
const soundsFor = (piece: Piece): number => (piece === "kick" || piece === "snare" ? 0.5 : 1);
/** The lowest band is let go so many times slower than the highest. */
const lowSlower = 4;
/** Looks that must have been worked out before the cancelled side is whole. */
const looksToFill = 2;

/** True for a chain that begins with cancelling: the engine does it for all mics at once. */
export const cancels = (chain: readonly ProcessorState[]): boolean => chain[0]?.type === "cancel";

/** Frames by which the mics of a song reach their chains late. */
export const kitLatency = ({ mics, sampleRate }: Pick<Song, "mics" | "sampleRate">): number =>
  mics.some((m) => cancels(m.chain)) ? cancelLatency(sampleRate) : 0;

/** A mic whose bleed can be cancelled. */
interface Treated {
  readonly mic: number;
  readonly handle: SlotHandle;
  readonly channels: number;
  /** Its channels among the observers. */
  observers: readonly number[];
  /** Looks worked out without a gap since it was switched on. */
  looks: number;
  /** The present look has been worked out. */
  made: boolean;
  reductionDb: number;
}

/**
 * Cancels bleed in all mics of a song before their chains: what each drum gives is told from all mics at once
 * (Separation), and every mic keeps its own drum's share, band by band. All mics leave it `latency` frames late; those
 * that are off leave it untouched, to the bit. The work on a look is spread over the blocks until the next.
 */
export class CancelStage {
  /** Frames by which everything is late; 0 where no chain holds the processor. */
  readonly latency: number;
  private readonly own: readonly (readonly Float32Array[])[];
  private readonly histories: readonly (readonly History[])[];
  private readonly looks: Looks;
  private readonly treated: readonly Treated[];
  /** By band: what is left after a look that lets go; and the time it was worked out for, s. */
  private readonly release = new Float64Array(bleedBands);
  private smooth = NaN;
  private readonly sampleRate: number;
  private separation: Separation | null = null;
  /** By observer: gains of its bands as they were let go. */
  private held: readonly Float64Array[] = [];
  /** Groups of observers whose sound is made in this look. */
  private making: boolean[] = [];
  private sounds = new Uint8Array(0);
  /** By source: power to which its gains are taken. */
  private exponents = new Float64Array(0);
  private strokes: readonly Float64Array[] = [];
  private bleed: Song["bleed"] | null = null;
  private learnt: Song | null = null;
  /** Blocks since the last look was complete; units of its work that are done. */
  private phase = 0;
  private done = Infinity;
  /** The stage whose outputs are taken. */
  private taken: CancelStage | null = null;
  /** Nothing was heard since a reset: silence lies before the first look. */
  private fresh = true;

  constructor(song: Song) {
    const { sampleRate, mics } = song;
    this.sampleRate = sampleRate;
    this.latency = kitLatency(song);
    this.own = mics.map((m) => Array.from({ length: m.channels }, () => new Float32Array(laneFrames)));
    const frames = Math.max(laneFrames, this.latency);
    this.histories = mics.map((m) => Array.from({ length: m.channels }, () => new History(frames)));
    const channels = mics.reduce((sum, m) => sum + m.channels, 0);
    this.looks = new Looks(sampleRate, this.latency > 0 ? channels : 0);
    const table = processorType("cancel").params;
    this.treated = mics.flatMap((m, mic): Treated[] =>
      cancels(m.chain)
        ? [
            {
              mic,
              handle: new SlotHandle(m.chain[0]!, table),
              channels: m.channels,
              observers: [],
              looks: 0,
              made: false,
              reductionDb: 0,
            },
          ]
        : [],
    );
  }

  handleOf(mic: number): SlotHandle | null {
    return this.treated.find((t) => t.mic === mic)?.handle ?? null;
  }
  /** How much of a mic was taken out in the last look, dB. */
  reductionDb(mic: number): number {
    const t = this.treated.find((x) => x.mic === mic);
    return t && t.handle.share > 0 ? t.reductionDb : 0;
  }
  /** Gains of a mic's bands in the last look into `out`, dB. */
  bandGains(mic: number, out: Float64Array): void {
    const t = this.treated.find((x) => x.mic === mic);
    if (!t || t.handle.share === 0 || t.observers.length === 0) return;
    const applied = this.looks.applied[t.observers[0]!]!;
    for (let b = 0; b < bleedBands; b++) out[b] = gainToDb(applied[b]!);
  }
  /** True when the mic is cancelled, or is on its way to or from it. */
  private works = ({ handle, observers }: Treated): boolean =>
    observers.length > 0 && (handle.goal === 1 || handle.share > 0);

  /** Takes values, switches, strokes and what the mics hear; same structure. */
  update(song: Song, sections: SectionMap): void {
    for (const t of this.treated) t.handle.take(song.mics[t.mic]!.chain[0]!, sections);
    const { learnt } = this;
    this.learnt = song;
    const labels = (mics: readonly Mic[]) =>
      mics.map((m) => `${m.piece} ${m.place} ${Number(m.silent)}`).join();
    if (song.bleed !== this.bleed || !learnt || labels(learnt.mics) !== labels(song.mics)) this.learn(song);
    else if (learnt.hits === song.hits && learnt.edits === song.edits) return;
    this.strokes = (this.separation?.sources ?? []).map((piece) => {
      const mic = song.mics.find((m) => m.piece === piece) ?? song.mics[0]!;
      const cuts = cutsOfMic(song, mic);
      return hitFrames(song.hits, piece, (t) => cutTime(cuts, t, song.sampleRate), song.sampleRate, 0);
    });
  }
  private learn(song: Song): void {
    this.bleed = song.bleed;
    const separation = new Separation(song.mics, song.bleed);
    this.separation = separation.usable ? separation : null;
    const observers = this.separation?.observers ?? [];
    this.held = observers.map(() => new Float64Array(bleedBands).fill(1));
    for (const applied of this.looks.applied) applied.fill(1);
    if (this.separation) this.looks.learn(separation);
    this.making = new Array<boolean>(Math.ceil(observers.length / looksAtOnce)).fill(false);
    this.sounds = new Uint8Array(separation.sources.length);
    this.exponents = new Float64Array(separation.sources.length).fill(1);
    this.done = Infinity;
    for (const t of this.treated) {
      const own = observers.flatMap((o, i) => (o.mic === t.mic && o.own >= 0 ? [i] : []));
      t.observers = own.length === t.channels ? own : [];
      t.looks = 0;
      t.made = false;
    }
  }
  /** Forgets all audio; switches and values are where they shall be at once. */
  reset(position: number): void {
    for (const channels of this.histories) for (const h of channels) h.reset();
    for (const held of this.held) held.fill(1);
    this.looks.reset();
    for (const t of this.treated) {
      t.handle.moveTo(position);
      t.handle.glide.jump();
      t.handle.share = t.observers.length > 0 ? t.handle.goal : 0;
      // Before the first look there was silence, on both sides.
      t.looks = looksToFill;
      t.made = false;
    }
    this.phase = 0;
    this.done = Infinity;
    this.fresh = true;
  }

  /** Takes its outputs from another stage that gets and does the same, and rests; null: from itself. True when it begins anew. */
  share(other: CancelStage | null, position: number): boolean {
    const begins = this.taken !== null && other === null;
    if (begins) this.reset(position);
    this.taken = other;
    return begins && this.latency > 0;
  }
  /** [mic][channel], the last block. */
  get outputs(): readonly (readonly Float32Array[])[] {
    return this.taken ? this.taken.outputs : this.own;
  }

  /** One block of every mic. Shape: inputs per mic and channel; results in `outputs`. `positions` of the input. */
  process(inputs: readonly Planar[], positions: PositionLine): void {
    if (this.taken) return;
    if (this.latency === 0) {
      for (let m = 0; m < inputs.length; m++)
        for (let ch = 0; ch < inputs[m]!.length; ch++) this.own[m]![ch]!.set(inputs[m]![ch]!);
      return;
    }
    for (let m = 0; m < inputs.length; m++)
      for (let ch = 0; ch < inputs[m]!.length; ch++)
        this.histories[m]![ch]!.exchange(inputs[m]![ch]!, this.own[m]![ch]!);
    for (let i = 0; i < this.treated.length; i++) {
      const { handle } = this.treated[i]!;
      handle.moveTo(positions.at(this.latency));
      handle.glide.step();
    }
    this.play();
    const phases = this.looks.size / 2 / laneFrames;
    this.work(Math.ceil(((this.phase + 1) * this.units) / phases));
    if (++this.phase < phases) return;
    this.phase = 0;
    this.begin(positions.at(0) + laneFrames);
  }

  /** Mixes the cancelled side in where it is on. */
  private play(): void {
    const from = this.phase * laneFrames;
    for (let i = 0; i < this.treated.length; i++) {
      const t = this.treated[i]!;
      const { handle } = t;
      if (!this.works(t) || t.looks < looksToFill) continue;
      const step = Math.sign(handle.goal - handle.share) / switchFrames;
      for (let ch = 0; ch < t.channels; ch++) {
        const y = this.own[t.mic]![ch]!;
        const wet = this.looks.playing(t.observers[ch]!);
        let { share } = handle;
        if (share === 1 && step >= 0) for (let f = 0; f < laneFrames; f++) y[f] = wet[from + f]!;
        else
          for (let f = 0; f < laneFrames; f++) {
            share = Math.min(1, Math.max(0, share + step));
            y[f]! += share * (wet[from + f]! - y[f]!);
          }
      }
      handle.share = Math.min(1, Math.max(0, handle.share + step * laneFrames));
    }
  }

  /** Units of work on a look: every group of observers is heard, then all are told apart, then every group is made. */
  private get units(): number {
    return 2 * this.making.length + 1;
  }

  /** A look is complete: what was worked out is played from now on, and the next is set to work on. */
  private begin(end: number): void {
    for (let i = 0; i < this.treated.length; i++) {
      const t = this.treated[i]!;
      if (t.made) t.looks++;
      else if (!this.fresh) t.looks = 0;
      t.made = false;
    }
    this.looks.swap();
    this.fresh = false;
    const running = this.separation !== null && this.treated.some(this.works);
    this.done = running ? 0 : Infinity;
    if (!running) return;
    const { shells, sources } = this.separation!;
    const { size } = this.looks;
    for (let k = 0; k < sources.length; k++) {
      const reach = soundsFor(sources[k]!) * this.sampleRate;
      const last = firstFrom(this.strokes[k]!, end) - 1;
      const ago = last < 0 ? Infinity : (end - size - this.strokes[k]![last]!) / this.sampleRate;
      this.exponents[k] =
        ago < strokeLasts
          ? takenUnderStrokes
          : ago < strokeFades || !shells[k]
            ? 1
            : takenAtRest(sources[k]!);
      this.sounds[k] = !shells[k] || (last >= 0 && this.strokes[k]![last]! > end - size - reach) ? 1 : 0;
    }
  }

  /** Works on the look until so many units are done. */
  private work(until: number): void {
    if (this.done === Infinity) return;
    const groups = this.making.length;
    for (; this.done < until; this.done++) {
      if (this.done < groups) this.listen(this.done);
      else if (this.done === groups) this.tellApart();
      else if (this.making[this.done - groups - 1]) this.looks.sound(this.done - groups - 1);
    }
  }
  private listen(group: number): void {
    const { observers } = this.separation!;
    for (let i = 0; i < looksAtOnce; i++) {
      const observer = observers[looksAtOnce * group + i];
      const frame = this.looks.frames[i]!;
      if (!observer) frame.fill(0);
      else this.histories[observer.mic]![observer.channel]!.copy((this.phase + 1) * laneFrames, frame);
    }
    this.looks.listen(group);
  }
  private tellApart(): void {
    this.looks.tellApart(this.separation!, this.sounds);
    this.weigh();
    this.making.fill(false);
    for (let i = 0; i < this.treated.length; i++)
      if (this.works(this.treated[i]!)) this.apply(this.treated[i]!);
  }
  /** A drum's own stroke is worth more than the bleed under it: of what would be taken there in dB only a tenth is; at rest more. */
  private weigh(): void {
    this.separation!.observers.forEach(({ own }, m) => {
      if (own < 0 || this.exponents[own] === 1) return;
      const gains = this.looks.gains[m]!;
      for (let b = 0; b < bleedBands; b++) gains[b] = gains[b]! ** this.exponents[own]!;
    });
  }

  /** How far each band is let go in a look. */
  private setRelease(smooth: number): void {
    if (smooth === this.smooth) return;
    this.smooth = smooth;
    const hop = this.looks.size / 2 / this.sampleRate;
    for (let b = 0; b < bleedBands; b++)
      this.release[b] = Math.exp(-hop / (smooth * lowSlower ** (1 - b / (bleedBands - 1))));
  }
  /** Works out by what the bands of a mic are multiplied in this look. */
  private apply(t: Treated): void {
    const { strength, range, smooth } = t.handle.glide.values as CancelValues;
    const least = dbToGain(-range);
    const amount = strength / 100;
    this.setRelease(smooth);
    let before = 0;
    let after = 0;
    for (const observer of t.observers) {
      const held = this.held[observer]!;
      const [gains, applied] = [this.looks.gains[observer]!, this.looks.applied[observer]!];
      const powers = this.looks.powers[observer]!;
      for (let b = 0; b < bleedBands; b++) {
        const falling = held[b]! * this.release[b]!;
        // What is no number must not stay.
        held[b] = gains[b]! > falling ? gains[b]! : falling;
        applied[b] = 1 - amount * (1 - Math.max(least, held[b]!));
        before += powers[b]!;
        after += powers[b]! * applied[b]! ** 2;
      }
      this.making[Math.floor(observer / looksAtOnce)] = true;
    }
    t.made = true;
    t.reductionDb = 10 * Math.log10(before / Math.max(after, 1e-30));
  }
}
