import { laneFrames, stereoPlace, type LaneMemory, type StereoPlace } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { kitOf } from "../song/graph";
import { mainMic, type Piece, type Song } from "../song/song";
import { adoptChain, setBeats, setHits, takeChain, type Adopted, type Lanes } from "./lanes";
import type { LateMic } from "./lateMic";
import { tapOf, type MicTap } from "./micTaps";
import { Strip, type BusNode } from "./mixNodes";
import { MixUnits, type Unit } from "./mixUnits";
import type { PositionLine } from "./positionLine";
import { SectionMap } from "./sectionValues";
import { openWays } from "./solo";
import { beatsOf, hitsInLoop, hitsOf, strokesMoved } from "./strokesOf";

/**
 * Faders, sends and buses: takes the mics as their chains leave them, all equally late, and gives the kit. Every way through
 * the buses is held back to the slowest into the same place, keys included.
 */
export class Mixer {
  private readonly strips: Strip[];
  private readonly busById: ReadonlyMap<string, BusNode>;
  private readonly kit: BusNode;
  private readonly late: ReadonlyMap<string, LateMic>;
  private sections: SectionMap;
  private section: string | null = null;
  /** Music that is no drum is heard beside the kit, not through it. */
  private readonly context: StereoPlace;
  private readonly contextLines: DelayLine[];
  private readonly isContext: boolean[];
  private outputs: (BusNode | null)[] = [];
  /** Strips with the frames by which what leaves them is late, and those of them whose faders move over the song. */
  private readonly placedStrips: readonly { readonly strip: Strip; readonly late: number }[];
  private moving: typeof this.placedStrips = [];
  private taken: Song | null = null;
  /** Frames by which the kit is late. */
  readonly latency: number;

  private constructor(
    song: Song,
    private readonly memory: LaneMemory,
    /** In the order in which they run. */
    private readonly units: readonly Unit[],
    /** By mic and tap: the mics as they come in, in this memory. */
    private readonly places: readonly (readonly StereoPlace[])[],
    private readonly taps: readonly (readonly MicTap[])[],
    private readonly micLatency: number,
  ) {
    const nodes = units.flatMap((u) => ("mic" in u ? [] : u.buses));
    this.busById = new Map(nodes.map((n) => [n.bus.id, n]));
    this.late = new Map(units.flatMap((u) => ("mic" in u ? [[u.mic.mic.id, u.mic] as const] : [])));
    this.kit = this.busById.get(kitOf(song).id)!;
    this.latency = this.kit.late;
    this.context = stereoPlace(memory);
    this.strips = song.mics.map((m) => this.late.get(m.id)?.strip ?? new Strip(m));
    this.placedStrips = [
      ...this.strips.map((strip, m) => ({
        strip,
        late: this.late.get(song.mics[m]!.id)?.late ?? micLatency,
      })),
      ...nodes.map(({ strip, late }) => ({ strip, late })),
    ];
    this.isContext = song.mics.map(() => false);
    this.contextLines = [0, 1].map(() => new DelayLine(this.latency - micLatency));
    this.sections = new SectionMap(song.sections, song.sampleRate);
    this.update(song, this.sections);
    this.jump();
  }

  /** Makes a mixer unit by unit. Errors  TypeError without a kit bus, RangeError for a loop. */
  static *build(song: Song, memory: LaneMemory): Generator<void, Mixer> {
    const units = new MixUnits(song, memory);
    for (const unit of units.planned) {
      units.add(unit);
      yield;
    }
    return new Mixer(song, memory, units.made, units.places, units.taps, units.micLate);
  }

  /** Buses and mics that wait for one, with what runs in them. */
  get buses(): readonly BusNode[] {
    return [...this.busById.values()];
  }
  get lateMics(): readonly LateMic[] {
    return [...this.late.values()];
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
    const node = this.busById.get(id)!;
    return { latency: node.late, buffers: node.faded.channels };
  }
  /** Largest sample a bus gave since the last call, linear. */
  takePeak(id: string): number {
    return this.busById.get(id)?.takePeak() ?? 0;
  }
  /** What the chain of a bus, or of a mic that waits for one, gives to its fader. */
  chainOutput(id: string): readonly Float32Array[] {
    return (this.late.get(id)?.places[0] ?? this.busById.get(id)!.output).channels;
  }
  setMatch(id: string, gain: number): void {
    const mic = this.taken?.mics.findIndex((m) => m.id === id) ?? -1;
    const strip = mic >= 0 ? this.strips[mic]! : this.busById.get(id)?.strip;
    strip?.level.setMatch(gain);
    for (const send of strip?.sends ?? []) send.follow(strip!.level);
  }

  update(song: Song, sections: SectionMap): void {
    this.sections = sections;
    const isOpen = openWays(song);
    const moved = strokesMoved(this.taken, song);
    const beats = this.taken?.tempo === song.tempo ? null : beatsOf(song);
    const mainOf = (of: Song | null, piece: Piece | null) =>
      of && piece ? mainMic(of.mics, piece) : undefined;
    const before = new Map(this.taken?.buses.map((b) => [b.id, b.piece]));
    this.outputs = song.mics.map((m) => this.busById.get(m.output) ?? null);
    song.mics.forEach((mic, i) => {
      this.isContext[i] = mic.piece === "context";
      this.strips[i]!.set(mic, (to) => isOpen(mic.id, to), song.sampleRate);
      this.late.get(mic.id)?.take(song, mic, sections, moved(mic), beats);
    });
    for (const bus of song.buses) {
      const { strip, chain, owner, picture } = this.busById.get(bus.id)!;
      strip.set(bus, (to) => isOpen(bus.id, to), song.sampleRate);
      picture.set(bus);
      if (chain) takeChain(chain, owner, bus.chain, sections);
      if (chain && beats) setBeats(chain, owner, beats);
      if (!chain) continue;
      const main = mainOf(song, bus.piece);
      const same = before.get(bus.id) === bus.piece && mainOf(this.taken, bus.piece)?.id === main?.id;
      if (!same || moved(main))
        setHits(chain, owner, main ? hitsOf(song, main) : hitsInLoop(song, bus.piece));
    }
    this.taken = song;
    this.moving = this.placedStrips.filter(({ strip }) => strip.level.moves);
  }
  private get allStrips(): readonly Strip[] {
    return [...this.strips, ...this.buses.map((b) => b.strip)];
  }
  /** Takes over what the processors of buses, and of mics that wait, remember in another mixer. */
  adopt(old: Mixer, what: Adopted): void {
    for (const [id, { chain, owner }] of this.busById) {
      const other = old.busById.get(id);
      if (chain && other?.chain) adoptChain(chain, owner, other.chain, other.owner, what);
    }
    for (const [id, { node }] of this.late) {
      const other = old.late.get(id)?.node;
      if (other) adoptChain(node.chain, 0, other.chain, 0, what);
    }
  }
  /** All levels at once where they are wanted. */
  jump(): void {
    for (const strip of this.allStrips) strip.jump();
    for (const { picture } of this.buses) picture.jump();
  }
  reset(position: number): void {
    this.moveTo(position);
    for (const { strip } of this.moving) strip.place(position);
    for (const unit of this.units)
      if ("mic" in unit) unit.mic.reset(position);
      else {
        unit.chain?.reset(position);
        for (const node of unit.buses) node.reset();
      }
    for (const line of this.contextLines) line.reset();
    this.jump();
  }
  private moveTo(position: number): void {
    const section = this.sections.at(position);
    if (section === this.section) return;
    this.section = section;
    for (const strip of this.allStrips) strip.moveTo(section);
  }

  /**
   * One block. Shape: `mics` by mic and tap two channels each, in the order of the song; `inputs` of all mics as they come into
   * their chains, for those that wait for a bus; `positions` of the engine's input.
   */
  process(mics: readonly (readonly Planar[])[], inputs: readonly Planar[], positions: PositionLine): void {
    this.moveTo(positions.at(this.micLatency));
    // A fader glides over a block: it goes to where it is to be at its end.
    for (let i = 0; i < this.moving.length; i++) {
      const { strip, late } = this.moving[i]!;
      strip.place(positions.at(late) + laneFrames);
    }
    for (const unit of this.units)
      if ("buses" in unit) for (const { input } of unit.buses) for (const x of input.channels) x.fill(0);
    for (const x of this.context.channels) x.fill(0);
    for (let m = 0; m < this.strips.length; m++) if (mics[m]!.length > 0) this.addMic(m, mics[m]!);
    for (let ch = 0; ch < 2; ch++) {
      const x = this.context.channels[ch]!;
      this.contextLines[ch]!.process(x, x, laneFrames);
    }
    for (const unit of this.units) {
      if ("mic" in unit) unit.mic.process(inputs, positions);
      else this.runBuses(unit.chain, unit.buses, positions);
    }
  }

  /** A mic's fader and sends into what they go to. */
  private addMic(m: number, outputs: readonly Planar[]): void {
    const { memory } = this;
    const places = this.places[m]!;
    const strip = this.strips[m]!;
    for (let t = 0; t < places.length; t++)
      for (let ch = 0; ch < 2; ch++) places[t]!.channels[ch]!.set(outputs[t]![ch]!);
    const target = this.isContext[m] ? this.context : this.outputs[m]?.input;
    if (target) strip.level.fader.addPlace(memory, places[0]!.pointer, target.pointer);
    const { sends } = this.taken!.mics[m]!;
    for (let s = 0; s < sends.length; s++) {
      const bus = this.busById.get(strip.sends[s]!.bus);
      const place = places[this.taps[m]!.indexOf(tapOf(sends[s]!))];
      if (bus && place) strip.sends[s]!.fader.addPlace(memory, place.pointer, bus.input.pointer);
    }
  }

  private runBuses(chain: Lanes | null, buses: readonly BusNode[], positions: PositionLine): void {
    for (let b = 0; b < buses.length; b++) buses[b]!.collect();
    chain?.process(positions, buses[0]!.arrival);
    for (let b = 0; b < buses.length; b++) buses[b]!.finish(this.memory);
  }
}
