import { bandGainsOf, handlesOf, reductionOf, type Adopted, type Lanes } from "./lanes";
import { laneFrames, LaneMemory } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import type { Song } from "../song/song";
import { CancelStage } from "./cancelStage";
import { groupMics, lanesMemory, MicBank } from "./micBank";
import type { MicNode } from "./micNode";
import { Mixer } from "./mixer";
import { PositionLine } from "./positionLine";
import { SectionMap } from "./sectionValues";
import type { SlotHandle } from "./slotHandle";

/** Frames the engine works on at a time, live and offline. */
export const blockFrames = laneFrames;

/** Where a processor runs: for meters. */
interface Seat {
  readonly handle: SlotHandle;
  reductionDb(): number;
  bandGains(out: Float64Array): void;
}

/**
 * Plays a song: mics through their chains into buses into the kit, every path compensated to the same latency.
 * One engine serves the audio worklet and offline renders; both call it with blocks of `blockFrames`.
 * Made anew when mics, buses or chains change; values move through `update`. `process` allocates nothing unless a value
 * is on its way.
 */
export class Engine {
  private readonly seats = new Map<string, Seat>();
  /** By mic of the song and tap; none for mics that run in the mix. */
  private outputs: readonly (readonly Planar[])[];
  /** By index of the song's mics. */
  private readonly nodes: ReadonlyMap<number, MicNode>;
  private readonly own: readonly (readonly Planar[])[];
  private sectionsOf: Song["sections"];
  private sections: SectionMap;
  private readonly positions: PositionLine;
  /** It was made out of another one, and its mics may lie in more lanes than they need. */
  readonly patched: boolean;
  /** Frames by which the output is late. */
  readonly latency: number;

  private constructor(
    song: Song,
    readonly stage: CancelStage,
    readonly bank: MicBank,
    readonly mixer: Mixer,
    /** Its stage, and the mics that stay as they were, still run in an old engine. */
    private borrows: boolean,
  ) {
    this.patched = borrows;
    this.latency = this.mixer.latency;
    this.positions = new PositionLine(this.latency);
    const waiting = this.mixer.lateMics.map((l) => l.node);
    this.nodes = new Map([...this.bank.nodes, ...waiting].map((n) => [n.index, n]));
    const byMic = new Map(this.bank.nodes.map((n) => [n.index, n]));
    this.own = song.mics.map((_, m) => byMic.get(m)?.outputs ?? []);
    this.outputs = this.own;
    this.sectionsOf = song.sections;
    this.sections = new SectionMap(song.sections, song.sampleRate);
    this.stage.update(song, this.sections);
    song.mics.forEach((_, m) => {
      const handle = this.stage.handleOf(m);
      if (handle)
        this.seats.set(handle.id, {
          handle,
          reductionDb: () => this.stage.reductionDb(m),
          bandGains: (out) => this.stage.bandGains(m, out),
        });
    });
    for (const node of this.nodes.values()) this.seat(node.handles(), node.chain, node.owner);
    for (const { chain, owner } of this.mixer.buses)
      if (chain) this.seat(handlesOf(chain, owner), chain, owner);
  }
  private seat(handles: readonly SlotHandle[], chain: Lanes, owner: number): void {
    handles.forEach((handle, place) => {
      this.seats.set(handle.id, {
        handle,
        reductionDb: () => reductionOf(chain, owner, place),
        bandGains: (out) => bandGainsOf(chain, owner, place, out),
      });
    });
  }

  /**
   * Makes the engine of a song bit by bit, each step short enough for an audio thread that plays meanwhile.
   * From an `old` engine of the same sources it takes what is the same: that still runs there until `takeOver`.
   * Errors  TypeError without a kit bus.
   */
  static *build(song: Song, old: Engine | null = null): Generator<void, Engine> {
    const groups = groupMics(song);
    const memory = LaneMemory.for(lanesMemory(song));
    const stage = old?.stage ?? new CancelStage(song);
    const bank = yield* MicBank.build(song, groups, memory, stage.latency, old?.bank);
    const mixer = yield* Mixer.build(song, memory);
    return new Engine(song, stage, bank, mixer, old !== null);
  }
  /** The engine of a song. Errors  as build. */
  static of(song: Song): Engine {
    return finished(Engine.build(song));
  }

  /** Takes every value of the song: parameters, switches, faders, sends, mutes, solos, hits. Same structure only. */
  update(song: Song): void {
    if (song.sections !== this.sectionsOf) {
      this.sectionsOf = song.sections;
      this.sections = new SectionMap(song.sections, song.sampleRate);
    }
    this.stage.update(song, this.sections);
    this.bank.update(song, this.sections);
    this.mixer.update(song, this.sections);
  }

  /** Forgets all audio, as after a jump of the playhead to `position`; settings stay. */
  reset(position = 0): void {
    this.positions.reset(position);
    if (!this.borrows) this.stage.reset(position);
    this.bank.reset(position);
    this.mixer.reset(position);
  }

  /** Frames of its latency that need no filling, because what they belong to runs already. */
  get filled(): number {
    return this.borrows ? this.bank.filled : 0;
  }
  /** Takes over what processors remember that are in both engines: going from the old one to this one is not heard. */
  adopt(old: Engine, what: Adopted): void {
    if (what.lines) this.positions.adopt(old.positions);
    this.bank.adopt(old.bank, what);
    this.mixer.adopt(old.mixer, what);
  }
  /** From now on it runs itself what it took from the old engine. */
  takeOver(): void {
    this.borrows = false;
    this.bank.takeOver();
  }

  /** Ids of processors that returned something that is not a number and were taken out. */
  get failed(): string[] {
    return [...this.seats].filter(([, s]) => s.handle.failed).map(([id]) => id);
  }
  /** What a mic's chain gives to its fader, or a bus's chain; two channels. */
  outputOf(id: string): readonly Float32Array[] {
    return this.bank.nodes.find((n) => n.mic.id === id)?.outputs[0] ?? this.mixer.chainOutput(id);
  }
  /**
   * Takes mics that are the same from another engine of the same structure, which is run first; and, with `stageSame`, what
   * comes into the chains. True when something that was taken runs by itself again and begins with silence.
   */
  share(other: Engine, same: readonly boolean[], stageSame: boolean, position: number): boolean {
    const theirs = new Map(other.bank.nodes.map((n) => [n.index, n.outputs]));
    const taken = (m: number) => same[m] && theirs.has(m);
    this.outputs = this.own.map((outputs, m) => (taken(m) ? theirs.get(m)! : outputs));
    const alone = this.stage.share(stageSame ? other.stage : null, position);
    return (
      this.bank.rest(
        same.map((_, m) => taken(m) === true),
        position,
      ) || alone
    );
  }
  /** Moves a mic or bus by a gain beside its fader, to match the loudness of two sides. */
  setMatch(id: string, gain: number): void {
    this.mixer.setMatch(id, gain);
  }
  /** Gain reduction of a processor in dB. */
  reduction(id: string): number {
    return this.seats.get(id)?.reductionDb() ?? 0;
  }
  /** Gains of a processor's bands now, dB; NaN where a band is off or the processor has none. */
  bandGains(id: string, out: Float64Array): void {
    out.fill(NaN);
    this.seats.get(id)?.bandGains(out);
  }
  private chainOf(id: string): { chain: Lanes; owner: number } | null {
    const node = [...this.nodes.values()].find((n) => n.mic.id === id);
    const bus = this.mixer.buses.find((b) => b.bus.id === id);
    return node ?? (bus?.chain ? { chain: bus.chain, owner: bus.owner } : null);
  }
  private watchedChain: Lanes | null = null;
  /** Measures what each processor of a mic or bus takes or gives; null: of none. */
  watchChain(id: string | null): void {
    this.watchedChain?.watch(-1);
    const found = id === null ? null : this.chainOf(id);
    found?.chain.watch(found.owner);
    this.watchedChain = found?.chain ?? null;
  }
  /** As LaneChain.takeLevels, for the watched chain; 0 places without one. */
  takeLevels(out: Float64Array): number {
    return this.watchedChain?.takeLevels(out) ?? 0;
  }
  /** Peak of a mic after its chain since the last call, linear. */
  takePeak(mic: number): number {
    return this.nodes.get(mic)?.takePeak() ?? 0;
  }
  /** Song frame of the first frame that came out last. */
  get playhead(): number {
    return this.positions.at(this.latency);
  }

  /**
   * One block. Shape: inputs per mic and channel, `blockFrames` frames each; the result is `mixer.output`.
   * `position` is the song frame of the first input frame; the output is `latency` frames behind it.
   */
  process(inputs: readonly Planar[], position: number): void {
    this.positions.put(position);
    if (!this.borrows) this.stage.process(inputs, this.positions);
    this.bank.process(this.stage.outputs, this.positions);
    this.mixer.process(this.outputs, this.stage.outputs, this.positions);
  }
}

/** Runs a building generator to its end. */
export function finished<T>(building: Generator<void, T>): T {
  for (;;) {
    const step = building.next();
    if (step.done) return step.value;
  }
}
