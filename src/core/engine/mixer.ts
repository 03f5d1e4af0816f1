import { laneFrames, stereoPlace, type LaneMemory, type StereoPlace } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { dbToGain } from "../signal/level";
import type { Bus, Mic, Song } from "../song/song";
import { Fader } from "./fader";
import { LaneChain } from "./laneChain";
import type { PositionLine } from "./positionLine";
import { SectionMap } from "./sectionValues";

/** A level that may differ by section. */
class Level {
  readonly fader = new Fader(0);
  private level = 0;
  private bySection: Readonly<Record<string, number>> | undefined;
  private open = true;
  private section: string | null = null;
  /** Beside the level, to match the loudness of two sides. */
  match = 1;

  set(level: number, bySection: Readonly<Record<string, number>> | undefined, open: boolean): void {
    this.level = level;
    this.bySection = bySection;
    this.open = open;
    this.apply();
  }
  moveTo(section: string | null): void {
    if (section === this.section) return;
    this.section = section;
    if (this.bySection) this.apply();
  }
  get gain(): number {
    const own = this.section === null ? undefined : this.bySection?.[this.section];
    return this.match * dbToGain(own ?? this.level);
  }
  setMatch(gain: number): void {
    this.match = gain;
    this.apply();
  }
  private apply(): void {
    this.fader.set(this.open ? this.gain : 0);
  }
}

interface Send {
  readonly bus: string;
  readonly beforeFader: boolean;
  readonly fader: Fader;
  gain: number;
}

const setSend = (send: Send, { gain, match }: Level): void =>
  send.fader.set(send.gain * (send.beforeFader ? match : gain));

/** What leaves a mic: its fader into a bus and its sends. */
class Strip {
  readonly level = new Level();
  readonly sends: Send[];
  target: BusNode | null = null;
  targets: (BusNode | null)[] = [];
  constructor(
    readonly mic: Mic,
    busIds: readonly string[],
  ) {
    this.sends = busIds.flatMap((bus) => [
      { bus, beforeFader: false, fader: new Fader(0), gain: 0 },
      { bus, beforeFader: true, fader: new Fader(0), gain: 0 },
    ]);
  }
}

class BusNode {
  readonly chain: LaneChain;
  readonly input: StereoPlace;
  readonly level = new Level();
  /** Holds back what comes straight from the mics until the slowest bus into this one is there. */
  readonly micLines: DelayLine[];
  readonly sources: { readonly node: BusNode; readonly lines: DelayLine[] }[] = [];
  readonly late: number;
  readonly faded: StereoPlace;
  readonly output: readonly Float32Array[];

  constructor(
    readonly bus: Bus,
    memory: LaneMemory,
    sampleRate: number,
    micLatency: number,
    feeding: readonly BusNode[],
  ) {
    this.chain = new LaneChain(memory, [{ chain: bus.chain, channels: 2 }], sampleRate);
    this.output = this.chain.channels(0);
    this.input = stereoPlace(memory);
    this.faded = stereoPlace(memory);
    const arrival = feeding.reduce((most, f) => Math.max(most, f.late), micLatency);
    this.micLines = [0, 1].map(() => new DelayLine(arrival - micLatency));
    for (const node of feeding)
      this.sources.push({ node, lines: [0, 1].map(() => new DelayLine(arrival - node.late)) });
    this.late = arrival + this.chain.latency;
  }
}

/** Faders, sends and buses: takes the mics as their chains leave them, all equally late, and gives the kit. */
export class Mixer {
  private readonly strips: Strip[];
  private readonly kit: BusNode;
  private sections: SectionMap;
  private section: string | null = null;
  /** Music that is no drum is heard beside the kit, not through it. */
  private readonly context: StereoPlace;
  /** The mics as they come in, in this memory. */
  private readonly places: readonly StereoPlace[];
  private readonly contextLines: DelayLine[];
  private readonly isContext: boolean[];

  private constructor(
    song: Song,
    private readonly memory: LaneMemory,
    readonly buses: readonly BusNode[],
    private readonly micLatency: number,
  ) {
    this.context = stereoPlace(memory);
    this.places = song.mics.map(() => stereoPlace(memory));
    this.kit = this.buses[this.buses.length - 1]!;
    const sendable = this.buses.filter((b) => b !== this.kit).map((b) => b.bus.id);
    this.strips = song.mics.map((m) => new Strip(m, sendable));
    this.isContext = song.mics.map(() => false);
    this.contextLines = [0, 1].map(() => new DelayLine(this.latency - micLatency));
    this.sections = new SectionMap(song.sections, song.sampleRate);
    this.update(song, this.sections);
    this.jump();
  }

  /** Makes a mixer bus by bus. Errors  TypeError without a kit bus. */
  static *build(song: Song, memory: LaneMemory, latency: number): Generator<void, Mixer> {
    const ordered = [...song.buses].sort((a, b) => Number(a.output === null) - Number(b.output === null));
    if (!ordered.some((b) => b.output === null)) throw new TypeError("the song has no kit bus");
    const buses: BusNode[] = [];
    for (const bus of ordered) {
      const feeding = buses.filter((b) => b.bus.output === bus.id);
      buses.push(new BusNode(bus, memory, song.sampleRate, latency, feeding));
      yield;
    }
    return new Mixer(song, memory, buses, latency);
  }

  /** Frames by which the kit is late. */
  get latency(): number {
    return this.kit.late;
  }
  /** The kit in the last block. */
  get output(): readonly Float32Array[] {
    return this.kit.faded.channels;
  }
  /** The music beside it. */
  get contextOutput(): readonly Float32Array[] {
    return this.context.channels;
  }
  /** What a bus gave in the last block, after its fader, and how late it is. */
  busOutput(id: string): { latency: number; buffers: readonly Float32Array[] } {
    const node = this.buses.find((b) => b.bus.id === id)!;
    return { latency: node.late, buffers: node.faded.channels };
  }

  /** What the chain of a bus gives to its fader. */
  chainOutput(id: string): readonly Float32Array[] {
    return this.buses.find((b) => b.bus.id === id)!.output;
  }
  setMatch(id: string, gain: number): void {
    const strip = this.strips.find((s) => s.mic.id === id);
    (strip ?? this.buses.find((b) => b.bus.id === id))?.level.setMatch(gain);
  }

  update(song: Song, sections: SectionMap): void {
    this.sections = sections;
    const micSoloed = song.mics.some((m) => m.soloed);
    const busSoloed = song.buses.some((b) => b.soloed && b.output !== null);
    const node = (id: string) => this.buses.find((b) => b.bus.id === id) ?? null;
    song.mics.forEach((mic, i) => {
      const strip = this.strips[i]!;
      this.isContext[i] = mic.piece === "context";
      // A soloed mic keeps its sends, so that its room and parallel paths are heard with it.
      const heard = !mic.muted && mic.id !== song.referenceRecord && (mic.soloed || !micSoloed);
      const straight = heard && (!busSoloed || mic.soloed);
      strip.level.set(mic.level, mic.levelBySection, straight);
      strip.target = node(mic.output);
      strip.targets = strip.sends.map((s) => node(s.bus));
      for (const send of strip.sends) {
        const wanted = mic.sends.find((s) => s.bus === send.bus && s.beforeFader === send.beforeFader);
        send.gain = wanted && heard && mic.level > -90 ? dbToGain(wanted.level) : 0;
        setSend(send, strip.level);
      }
    });
    for (const { bus, level, chain } of this.buses) {
      const now = song.buses.find((b) => b.id === bus.id)!;
      const silenced = now.muted || (busSoloed && now.output !== null && !now.soloed);
      level.set(now.level, now.levelBySection, !silenced);
      chain.take(0, now.chain, sections);
    }
  }
  /** All levels at once where they are wanted. */
  jump(): void {
    for (const { level, sends } of this.strips) {
      level.fader.jump();
      for (const s of sends) s.fader.jump();
    }
    for (const { level } of this.buses) level.fader.jump();
  }
  reset(position: number): void {
    this.moveTo(position);
    for (const { chain, micLines, sources } of this.buses) {
      chain.reset(position);
      for (const line of [...micLines, ...sources.flatMap((s) => s.lines)]) line.reset();
    }
    for (const line of this.contextLines) line.reset();
    this.jump();
  }
  private moveTo(position: number): void {
    const section = this.sections.at(position);
    if (section === this.section) return;
    this.section = section;
    for (const { level, sends } of this.strips) {
      level.moveTo(section);
      for (const s of sends) setSend(s, level);
    }
    for (const { level } of this.buses) level.moveTo(section);
  }

  /** One block. Shape: mics two channels each, in the order of the song; `positions` of the engine's input. */
  process(mics: readonly Planar[], positions: PositionLine): void {
    this.moveTo(positions.at(this.micLatency));
    for (const { input } of this.buses) for (const x of input.channels) x.fill(0);
    for (const x of this.context.channels) x.fill(0);
    for (let m = 0; m < mics.length; m++) {
      const strip = this.strips[m]!;
      const { pointer, channels } = this.places[m]!;
      for (let ch = 0; ch < 2; ch++) channels[ch]!.set(mics[m]![ch]!);
      const target = this.isContext[m] ? this.context : strip.target?.input;
      if (target) strip.level.fader.addPlace(this.memory, pointer, target.pointer);
      for (let s = 0; s < strip.sends.length; s++) {
        const bus = strip.targets[s];
        if (bus) strip.sends[s]!.fader.addPlace(this.memory, pointer, bus.input.pointer);
      }
    }
    for (let ch = 0; ch < 2; ch++) {
      const x = this.context.channels[ch]!;
      this.contextLines[ch]!.process(x, x, laneFrames);
    }
    for (const node of this.buses) this.runBus(node, positions);
  }

  private runBus(node: BusNode, positions: PositionLine): void {
    const n = laneFrames;
    const { kernels } = this.memory;
    for (let ch = 0; ch < 2; ch++) {
      const x = node.input.channels[ch]!;
      node.micLines[ch]!.process(x, x, n);
    }
    for (const { node: from, lines } of node.sources) {
      for (let ch = 0; ch < 2; ch++) {
        const x = from.faded.channels[ch]!;
        lines[ch]!.process(x, x, n);
      }
      kernels.addStereo(from.faded.pointer, node.input.pointer, 1, 1, n);
    }
    node.chain.feed(0, node.input.channels);
    node.chain.process(positions, node.late - node.chain.latency);
    for (const y of node.faded.channels) y.fill(0);
    node.level.fader.addPlace(this.memory, node.chain.pointer(0), node.faded.pointer);
  }
}
