import { blockFrames, Engine } from "../engine/engine";
import { Fader, stereoBlock } from "../engine/fader";
import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import type { Song } from "../song/song";
import { plainListening, type Comparison, type Listening } from "./listening";
import { LoopLoudness } from "./loopLoudness";
import { differing, otherSide } from "./otherSide";

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

/** The other side as it runs. */
interface Other {
  readonly engine: Engine | null; // null: a record
  song: Song | null;
  readonly record: number; // index of its mic, or -1
  readonly lines: DelayLine[];
  readonly out: readonly Float32Array[];
  readonly parts: Differing[];
  /** Frames until its lines and tails are filled. */
  filling: number;
}

/**
 * The song and what it is compared with, side by side at the same playhead, so that changing sides is a fade of a few
 * milliseconds between two streams that both run. Loudness is matched by measuring both over the loop: first of every
 * mic and bus that differs, then of the whole.
 */
export class Sides {
  readonly engine: Engine;
  private other: Other | null = null;
  private building: Generator<void, Engine> | null = null;
  private pending: { song: Song; comparison: Comparison } | null = null;
  private listening: Listening = plainListening;
  private readonly here: LoopLoudness;
  private readonly there: LoopLoudness;
  private readonly hereFader = new Fader(1);
  private readonly thereFader = new Fader(0);
  private readonly sum = stereoBlock(blockFrames);
  private totalDb = 0;
  private blocks = 0;
  /** Song frame of the last input. */
  private position = 0;

  constructor(private song: Song) {
    this.engine = Engine.of(song);
    this.here = new LoopLoudness(song.sampleRate, blockFrames);
    this.there = new LoopLoudness(song.sampleRate, blockFrames);
  }

  get latency(): number {
    return this.engine.latency;
  }
  /** Sum of both sides as it is heard. */
  get output(): readonly Float32Array[] {
    return this.sum;
  }
  get context(): readonly Float32Array[] {
    return this.engine.mixer.contextOutput;
  }

  /** Takes values of the song; same structure. */
  update(song: Song): void {
    this.song = song;
    this.engine.update(song);
    const { comparison } = this.listening;
    const other = otherSide(song, comparison);
    if (this.pending && other) this.pending = { song: other, comparison };
    if (!this.other?.engine || !other) return;
    if (comparison.kind !== "version") {
      this.other.engine.update(other);
      this.other.song = other;
    }
    this.share(this.other);
  }

  /** Mics that are the same on both sides run once. */
  private share(other: Other): void {
    if (!other.engine || !other.song) return;
    const { song } = this;
    const there = other.song;
    const sameTime =
      song.edits === there.edits && song.hits === there.hits && song.sections === there.sections;
    const sameMics = song.mics.length === there.mics.length && other.engine.latency === this.latency;
    const same = there.mics.map((m, i) => sameTime && sameMics && m === song.mics[i]);
    if (other.engine.share(this.engine, same, this.position)) other.filling = this.latency;
  }

  listen(listening: Listening): void {
    const before = this.listening;
    this.listening = listening;
    if (sameComparison(before.comparison, listening.comparison)) return;
    this.here.clear();
    this.there.clear();
    this.totalDb = 0;
    this.measured = false;
    const { comparison } = listening;
    const song = otherSide(this.song, comparison);
    this.building = null;
    this.pending = null;
    if (song) this.take(song, comparison);
    else this.other = comparison.kind === "reference" ? this.record() : null;
  }
  /** The other side's engine is kept when only values change, and built bit by bit otherwise. */
  private take(song: Song, comparison: Comparison): void {
    const engine = this.other?.engine;
    if (engine && this.other?.song && sameStructure(this.other.song, song)) {
      engine.update(song);
      this.other = this.withEngine(engine, song, comparison, Math.max(this.other.filling, 0));
      this.share(this.other);
      return;
    }
    this.other = null;
    this.pending = { song, comparison };
    this.building = Engine.build(song);
  }
  private withEngine(engine: Engine, song: Song, comparison: Comparison, filling: number): Other {
    const { sampleRate } = song;
    return {
      engine,
      song,
      record: -1,
      lines: [0, 1].map(() => new DelayLine(Math.max(0, this.latency - engine.latency))),
      out: stereoBlock(blockFrames),
      parts: differing(this.song, song, comparison).map((id) => ({
        id,
        here: new LoopLoudness(sampleRate, blockFrames),
        there: new LoopLoudness(sampleRate, blockFrames),
        matchDb: 0,
      })),
      filling,
    };
  }
  private record(): Other | null {
    const record = this.song.mics.findIndex((m) => m.id === this.song.referenceRecord);
    if (record < 0) return null;
    const lines = [0, 1].map(() => new DelayLine(this.latency));
    const out = stereoBlock(blockFrames);
    return { engine: null, song: null, record, lines, out, parts: [], filling: this.latency };
  }

  /** Forgets all audio, as after a jump of the playhead; settings and measured loudness stay. */
  reset(position: number): void {
    this.position = position;
    this.engine.reset(position);
    if (!this.other) return;
    this.other.engine?.reset(position);
    for (const line of this.other.lines) line.reset();
    this.other.filling = this.latency;
  }

  /** Gain in dB by which the other side is moved: of the one mic or bus that differs, or of the whole. */
  get matchDb(): number {
    if (!this.listening.matched || !this.other) return 0;
    const { parts } = this.other;
    return parts.length === 1 ? parts[0]!.matchDb : this.totalDb;
  }
  /** True once both sides were heard long enough to be matched. */
  measured = false;

  /**
   * One block. Shape: inputs per mic and channel; `otherInputs` the same for the other side where its timing differs.
   * `position` as for the engine.
   */
  process(inputs: readonly Planar[], otherInputs: readonly Planar[], position: number): void {
    this.position = position;
    this.build();
    this.engine.process(inputs, position);
    const { other } = this;
    const heard = position - this.latency;
    for (const y of this.sum) y.fill(0);
    if (other) this.runOther(other, otherInputs, position);
    const there = other !== null && other.filling <= 0 && this.listening.side !== "with";
    const difference = there && this.listening.side === "difference";
    const gain = this.listening.matched ? dbToGain(this.totalDb) : 1;
    this.hereFader.set(there && !difference ? 0 : 1);
    this.thereFader.set(there ? (difference ? -gain : gain) : 0);
    this.hereFader.add(this.engine.mixer.output, this.sum, blockFrames);
    if (!other) return this.thereFader.jump();
    this.thereFader.add(other.out, this.sum, blockFrames);
    if (other.filling <= 0) this.measure(other, heard);
  }

  private build(): void {
    if (!this.building) return;
    const { done, value } = this.building.next();
    if (!done) return;
    const { song, comparison } = this.pending!;
    value.update(song);
    this.building = null;
    this.pending = null;
    this.other = this.withEngine(
      value,
      song,
      comparison,
      Math.max(this.latency, value.latency) + blockFrames,
    );
    this.share(this.other);
  }

  private runOther(other: Other, inputs: readonly Planar[], position: number): void {
    const { engine, lines, out } = other;
    if (engine) {
      engine.process(inputs, position);
      for (let ch = 0; ch < 2; ch++) lines[ch]!.process(engine.mixer.output[ch]!, out[ch]!, blockFrames);
    } else {
      const input = inputs[other.record]!;
      for (let ch = 0; ch < 2; ch++)
        lines[ch]!.process(input[Math.min(ch, input.length - 1)]!, out[ch]!, blockFrames);
    }
    if (other.filling > 0) other.filling -= blockFrames;
  }

  /** Measures both sides and, now and then, moves the match. */
  private measure(other: Other, heard: number): void {
    this.here.add(this.engine.mixer.output, blockFrames, heard);
    this.there.add(other.out, blockFrames, heard);
    for (const { id, here, there } of other.parts) {
      here.add(this.engine.outputOf(id), blockFrames, heard);
      there.add(other.engine!.outputOf(id), blockFrames, heard);
    }
    if (++this.blocks % matchEvery !== 0) return;
    const { range, matched } = this.listening;
    for (const part of other.parts) {
      const wanted = matched ? difference(part.here.measure(range), part.there.measure(range)) : 0;
      // What differs is measured before this gain, so that the gain does not chase itself.
      // What the whole sounded like before this part was moved says nothing any more.
      if (Math.abs(wanted - part.matchDb) > 0.5) {
        this.here.clear();
        this.there.clear();
      }
      part.matchDb += matchShare * (wanted - part.matchDb);
      other.engine!.setMatch(part.id, dbToGain(part.matchDb));
    }
    const here = this.here.measure(range);
    const there = this.there.measure(range);
    this.measured = Number.isFinite(here) && Number.isFinite(there);
    this.totalDb += matchShare * (difference(here, there) - this.totalDb);
  }
}

const difference = (here: number, there: number): number =>
  Number.isFinite(here) && Number.isFinite(there)
    ? Math.max(-mostMatch, Math.min(mostMatch, here - there))
    : 0;

const sameComparison = (a: Comparison, b: Comparison): boolean =>
  a.kind === b.kind &&
  (a.kind !== "processors" ||
    (a.ids.length === (b as typeof a).ids.length && a.ids.every((id, i) => id === (b as typeof a).ids[i]))) &&
  (a.kind !== "version" || a.song === (b as typeof a).song);

const structure = (song: Song): string =>
  JSON.stringify([
    song.mics.map((m) => [m.id, m.channels, m.chain.map((p) => p.id)]),
    song.buses.map((b) => [b.id, b.output, b.chain.map((p) => p.id)]),
  ]);
const sameStructure = (a: Song, b: Song): boolean => structure(a) === structure(b);
