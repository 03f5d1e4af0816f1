import { blockFrames, Engine } from "../engine/engine";
import { Fader, stereoBlock } from "../engine/fader";
import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import type { Mic, Song } from "../song/song";
import { sameStructure } from "../song/structure";
import { plainListening, type Comparison, type Listening } from "./listening";
import { LoopLoudness } from "./loopLoudness";
import { differing, otherSide } from "./otherSide";
import { Succession } from "./succession";

/** Blocks between two looks at the loudness of both sides: 43 ms at 48 kHz. */
const matchEvery = 16;
/** Most by which a side is moved, dB. */
const mostMatch = 24;
/** Share of the way to a new match in one look. */
const matchShare = 0.5;

/** One mic or bus that sounds different on the two sides, with the loudness of both. */
interface Differing {
  readonly id: string;
  readonly here: LoopLoudness;
  readonly there: LoopLoudness;
  matchDb: number;
}

/** The other side as it runs: an engine, or a record that is held back as long as the engine takes. */
type Other = { readonly out: readonly Float32Array[]; filling: number } & (
  | {
      readonly kind: "song";
      readonly engine: Engine;
      song: Song;
      readonly parts: readonly Differing[];
      /** Frames by which it is quicker, waited for. */
      readonly lines: readonly DelayLine[];
    }
  | { readonly kind: "record"; readonly mic: number; readonly lines: readonly DelayLine[] }
); // `filling`: frames until delays and tails are filled

/**
 * The song and what it is compared with, side by side at the same playhead, so that changing sides is a fade of a few
 * milliseconds between two streams that both run. Loudness is matched by measuring both over the loop: first of every
 * mic and bus that differs, then of the whole. Before the comparison itself changes, what is heard of it fades out.
 */
export class Sides {
  private now: Engine;
  /** The engine of a song whose structure has changed, on its way. */
  private succession: Succession | null = null;
  private other: Other | null = null;
  private building: { song: Song; readonly engine: Generator<void, Engine> } | null = null;
  private listening: Listening = plainListening;
  /** The comparison that runs; that of `listening` once the old one has faded out. */
  private comparison: Comparison = plainListening.comparison;
  private leaving = false;
  private readonly here: LoopLoudness;
  private readonly there: LoopLoudness;
  private readonly hereFader = new Fader(1);
  private readonly thereFader = new Fader(0);
  private readonly sum = stereoBlock(blockFrames);
  private totalDb = 0;
  private bothHeard = false;
  private blocks = 0;
  /** Song frame of the last input. */
  private position = 0;

  constructor(private song: Song) {
    this.now = Engine.of(song);
    this.here = new LoopLoudness(song.sampleRate, blockFrames);
    this.there = new LoopLoudness(song.sampleRate, blockFrames);
  }

  private watched: string | null = null;
  /** Measures what each processor of a mic or bus takes or gives. */
  watchChain(id: string | null): void {
    this.watched = id;
    this.engine.watchChain(id);
  }
  get engine(): Engine {
    return this.now;
  }
  get latency(): number {
    return this.engine.latency;
  }
  /** Song frame of the first frame of the output. */
  get playhead(): number {
    return this.engine.playhead;
  }
  /** Sum of both sides as it is heard. */
  get output(): readonly Float32Array[] {
    return this.sum;
  }
  get context(): readonly Float32Array[] {
    return this.succession?.ready ? this.succession.context : this.engine.mixer.contextOutput;
  }

  /** What the song gives in this block. */
  private get main(): Planar {
    return this.succession?.ready ? this.succession.output : this.engine.mixer.output;
  }

  /**
   * Takes a song of the same sources. Values move at once; for another structure a new engine is made beside this one and
   * faded to.
   */
  update(song: Song): void {
    if (this.succession?.fits(song)) return this.succession.update(song);
    this.succession = null;
    if (sameStructure(this.song, song)) this.take(song);
    else this.succession = new Succession(song, this.engine);
  }
  /** A new engine takes the place of this one. */
  private succeed(succession: Succession): void {
    const { engine, song } = succession.take();
    this.now.watchChain(null);
    engine.watchChain(this.watched);
    this.succession = null;
    this.now = engine;
    this.song = song;
    this.other = null;
    this.compare();
  }
  /** While nothing plays: builds on; true when another engine has taken over and everything is to be filled anew. */
  idle(): boolean {
    if (!this.succession && this.engine.patched) this.succession = new Succession(this.song, null);
    if (!this.succession?.build()) return false;
    this.succeed(this.succession);
    return true;
  }
  private take(song: Song): void {
    const record = song.referenceRecord !== this.song.referenceRecord;
    this.song = song;
    this.engine.update(song);
    const { comparison, other } = this;
    if (comparison.kind === "reference" && record) return this.change();
    const there = otherSide(song, comparison);
    if (!there) return;
    if (this.building) this.building.song = there;
    if (other?.kind !== "song") return;
    if (comparison.kind !== "version") {
      other.engine.update(there);
      other.song = there;
    }
    this.share(other);
  }

  /** Mics that are the same on both sides run once. */
  private share(other: Extract<Other, { kind: "song" }>): void {
    const here = this.song;
    const there = other.song;
    const sameTime =
      here.edits === there.edits && here.hits === there.hits && here.sections === there.sections;
    const same = there.mics.map((m, i) => sameTime && m === here.mics[i]);
    // Mics that differ behind it still get the same from the stage before the chains.
    const stageSame =
      sameTime && here.bleed === there.bleed && here.mics.every((m, i) => sameStart(m, there.mics[i]!));
    if (other.engine.share(this.engine, same, stageSame, this.position)) other.filling = this.latency;
  }

  listen(listening: Listening): void {
    this.listening = listening;
    if (!sameComparison(this.comparison, listening.comparison)) this.change();
  }
  /** Goes to another comparison: at once, or when what is heard of the old one has faded out. */
  private change(): void {
    if (this.thereFader.open) this.leaving = true;
    else this.compare();
  }

  private compare(): void {
    this.leaving = false;
    this.comparison = this.listening.comparison;
    this.here.clear();
    this.there.clear();
    this.totalDb = 0;
    this.bothHeard = false;
    this.building = null;
    const song = otherSide(this.song, this.comparison);
    if (song) this.runOtherSide(song);
    else this.other = this.comparison.kind === "reference" ? this.record() : null;
  }
  /** The other side's engine is kept when only values change, and built bit by bit otherwise. */
  private runOtherSide(song: Song): void {
    const { other } = this;
    if (other?.kind === "song" && sameStructure(other.song, song)) {
      for (const { id } of other.parts) other.engine.setMatch(id, 1);
      other.engine.update(song);
      this.run(other.engine, song, Math.max(other.filling, 0));
      return;
    }
    this.other = null;
    this.building = { song, engine: Engine.build(song) };
  }
  private run(engine: Engine, song: Song, filling: number): void {
    const { sampleRate } = song;
    const parts = differing(this.song, song, this.comparison).map((id) => ({
      id,
      here: new LoopLoudness(sampleRate, blockFrames),
      there: new LoopLoudness(sampleRate, blockFrames),
      matchDb: 0,
    }));
    const quicker = this.latency - engine.latency;
    const lines = quicker > 0 ? [0, 1].map(() => new DelayLine(quicker)) : [];
    const out = quicker > 0 ? stereoBlock(blockFrames) : engine.mixer.output;
    this.other = { kind: "song", engine, song, parts, lines, out, filling };
    this.share(this.other);
  }
  private record(): Other | null {
    const mic = this.song.mics.findIndex((m) => m.id === this.song.referenceRecord);
    if (mic < 0) return null;
    const lines = [0, 1].map(() => new DelayLine(this.latency));
    return { kind: "record", mic, lines, out: stereoBlock(blockFrames), filling: this.latency };
  }

  /** Forgets all audio, as after a jump of the playhead; settings and measured loudness stay. */
  reset(position: number): void {
    this.position = position;
    // A jump is silent anyway: an engine that is there takes over at once.
    if (this.succession?.built) this.succeed(this.succession);
    this.engine.reset(position);
    if (!this.other) return;
    if (this.other.kind === "song") this.other.engine.reset(position);
    for (const line of this.other.lines) line.reset();
    this.other.filling = this.latency;
  }

  /** Gain in dB by which the other side is moved: of the one mic or bus that differs, or of the whole. */
  get matchDb(): number {
    const { other } = this;
    if (!this.listening.matched || !other) return 0;
    return other.kind === "song" && other.parts.length === 1 ? other.parts[0]!.matchDb : this.totalDb;
  }
  /** True once both sides were heard long enough to be matched. */
  get measured(): boolean {
    return this.bothHeard;
  }

  /**
   * One block. Shape: inputs per mic and channel; `otherInputs` the same for the other side where its timing differs.
   * `position` as for the engine.
   */
  process(inputs: readonly Planar[], otherInputs: readonly Planar[], position: number): void {
    this.position = position;
    this.build();
    this.engine.process(inputs, position);
    const { other, succession } = this;
    // What the other side gives fades out first: it belongs to the old structure.
    if (succession?.ready && this.thereFader.open) this.leaving = true;
    succession?.process(inputs, position, !this.thereFader.open);
    const { side, matched } = this.listening;
    for (const y of this.sum) y.fill(0);
    if (other) this.runOther(other, otherInputs, position);
    const there =
      other !== null && other.filling <= 0 && side !== "with" && !this.leaving && !succession?.ready;
    const difference = there && side === "difference";
    const gain = matched ? dbToGain(this.totalDb) : 1;
    this.hereFader.set(there && !difference ? 0 : 1);
    this.thereFader.set(there ? (difference ? -gain : gain) : 0);
    this.hereFader.add(this.main, this.sum, blockFrames);
    if (succession?.done) {
      this.thereFader.jump();
      return this.succeed(succession);
    }
    if (!other) return this.thereFader.jump();
    this.thereFader.add(other.out, this.sum, blockFrames);
    if (other.filling <= 0) this.measure(other);
    if (this.leaving) this.compare();
  }

  private build(): void {
    if (!this.building) return;
    const { done, value } = this.building.engine.next();
    if (!done) return;
    const { song } = this.building;
    value.update(song);
    this.building = null;
    this.run(value, song, this.latency + blockFrames);
  }

  private runOther(other: Other, inputs: readonly Planar[], position: number): void {
    if (other.kind === "song") {
      other.engine.process(inputs, position);
      other.lines.forEach((line, ch) =>
        line.process(other.engine.mixer.output[ch]!, other.out[ch]!, blockFrames),
      );
    } else {
      const input = inputs[other.mic]!;
      for (let ch = 0; ch < 2; ch++)
        other.lines[ch]!.process(input[Math.min(ch, input.length - 1)]!, other.out[ch]!, blockFrames);
    }
    if (other.filling > 0) other.filling -= blockFrames;
  }

  /** Measures both sides and, now and then, moves the match. */
  private measure(other: Other): void {
    const { playhead } = this;
    this.here.add(this.main, blockFrames, playhead);
    this.there.add(other.out, blockFrames, playhead);
    if (other.kind === "song")
      for (const { id, here, there } of other.parts) {
        here.add(this.engine.outputOf(id), blockFrames, playhead);
        there.add(other.engine.outputOf(id), blockFrames, playhead);
      }
    if (++this.blocks % matchEvery !== 0) return;
    if (other.kind === "song") this.matchParts(other.engine, other.parts);
    const { range } = this.listening;
    const here = this.here.measure(range);
    const there = this.there.measure(range);
    this.bothHeard = Number.isFinite(here) && Number.isFinite(there);
    this.totalDb += matchShare * (difference(here, there) - this.totalDb);
  }
  /** What differs is measured before its gain, so that the gain does not chase itself. */
  private matchParts(engine: Engine, parts: readonly Differing[]): void {
    const { range, matched } = this.listening;
    for (const part of parts) {
      const wanted = matched ? difference(part.here.measure(range), part.there.measure(range)) : 0;
      // What the whole sounded like before this part was moved says nothing any more.
      if (Math.abs(wanted - part.matchDb) > 0.5) {
        this.here.clear();
        this.there.clear();
      }
      part.matchDb += matchShare * (wanted - part.matchDb);
      engine.setMatch(part.id, dbToGain(part.matchDb));
    }
  }
}

/** True for mics that go into their chains alike. */
const sameStart = (a: Mic, b: Mic): boolean =>
  a === b ||
  (a.chain[0] === b.chain[0] && a.piece === b.piece && a.silent === b.silent && a.ownEdits === b.ownEdits);

const difference = (here: number, there: number): number =>
  Number.isFinite(here) && Number.isFinite(there)
    ? Math.max(-mostMatch, Math.min(mostMatch, here - there))
    : 0;

const sameComparison = (a: Comparison, b: Comparison): boolean =>
  a.kind === b.kind &&
  (a.kind !== "processors" ||
    (a.ids.length === (b as typeof a).ids.length && a.ids.every((id, i) => id === (b as typeof a).ids[i]))) &&
  (a.kind !== "version" || a.song === (b as typeof a).song);
