import type { PanPlace } from "../signal/pan";
import type { Planar } from "../processor";
import { laneCount, laneFrames, LaneHold, LaneMemory } from "../lanes/laneMemory";
import type { LaneOwner } from "../lanes/laneOwner";
import { SpreadLanes } from "../lanes/spreadLanes";
import { processorType } from "../processors";
import type { ProcessorState } from "../song/song";
import type { PositionLine } from "./positionLine";
import { PlaceLevels, type Lanes, type Seat } from "./lanes";
import { LaneSlot, type SlotWidths } from "./laneSlot";

/** A mic or bus whose chain runs in lanes. */
export interface ChainOwner {
  readonly chain: readonly ProcessorState[];
  readonly channels: number;
}

type Place = ReturnType<LaneMemory["floats"]>;

/** Channels that come out of a processor. */
export const widthAfter = (type: string, before: number): number => (processorType(type).widens ? 2 : before);
/** Channels that come out of a whole chain. */
export const widthAfterChain = ({ chain, channels }: ChainOwner): number =>
  chain.reduce((w, p) => widthAfter(p.type, w), channels);
/** Lanes a chain needs: the most channels anywhere in it. */
export const lanesOf = widthAfterChain; // no processor gives fewer channels than it takes

/** A signal from elsewhere to which some detectors of a chain listen. */
export interface ChainKey {
  readonly channels: number;
  /** Slots that listen to it. */
  readonly slots: readonly number[];
}

/** Where a chain's audio is handed on, in left and right. */
export interface ChainTap {
  /** Slots before it; as many as there are: behind the chain. */
  readonly behind: number;
  /** By the place of the owner's pan, or as if that stood in the middle. */
  readonly panned: boolean;
}

export interface LaneChainOptions {
  readonly keys?: readonly ChainKey[];
  readonly taps?: readonly ChainTap[];
  readonly scalar?: boolean;
}

/** Lanes of a key, and how each slot holds it back. */
interface KeyLanes extends ChainKey {
  readonly places: readonly Place[];
  readonly x: number;
  readonly lines: readonly LaneHold[];
}

/** A tap: where its lanes are copied to, if they are needed before the end, and the spread to left and right. */
interface TapLanes extends ChainTap {
  readonly x: number;
  readonly spread: SpreadLanes;
}

/**
 * The chains of up to four lanes of mics or buses, side by side: same types in the same order, each with values of its
 * own. Write `inputs`, call `process`, read `outputs`.
 */
export class LaneChain implements Lanes {
  readonly owners: readonly LaneOwner[];
  readonly slots: readonly LaneSlot[];
  readonly latency: number;
  private readonly taps: readonly TapLanes[];
  /** One planar channel a lane. */
  private readonly lanes: Place[];
  private readonly keys: readonly KeyLanes[];
  private readonly x: number;
  private readonly block: { pointer: number; values: Float32Array };
  private watched = -1;
  private readonly levels: PlaceLevels;
  private readonly allSeats: readonly (readonly Seat[])[];
  private readonly at: Float64Array;

  /** Errors  RangeError for more than four lanes or chains of different types. */
  constructor(
    private readonly memory: LaneMemory,
    owners: readonly ChainOwner[],
    sampleRate: number,
    { keys = [], taps = [], scalar = false }: LaneChainOptions = {},
  ) {
    const types = owners[0]!.chain.map((p) => p.type);
    if (owners.some((o) => o.chain.length !== types.length || o.chain.some((p, i) => p.type !== types[i])))
      throw new RangeError("chains that run side by side must hold the same processors in the same order");
    const keyed = types.map((_, s) => keys.find((k) => k.slots.includes(s)));
    const widest = keys.reduce((most, k) => Math.max(most, k.channels), 0);
    let lane = 0;
    this.owners = owners.map((owner) => {
      const width = Math.max(lanesOf(owner), widest);
      if (width === 2) lane = (lane + 1) & ~1;
      const first = lane;
      lane += width;
      if (lane > laneCount) throw new RangeError(`${lane} lanes in a group of ${laneCount}`);
      return { first, width };
    });
    const lanes = memory.floats(laneCount * laneFrames);
    this.lanes = Array.from({ length: laneCount }, (_, l) => ({
      pointer: lanes.pointer + 4 * l * laneFrames,
      values: lanes.values.subarray(l * laneFrames, (l + 1) * laneFrames),
    }));
    this.block = memory.floats(laneCount * laneFrames);
    this.x = this.block.pointer;
    this.levels = new PlaceLevels(types.length + 1);
    this.at = new Float64Array(owners.length);
    const widths = owners.map((o) => o.channels);
    const format = { memory, sampleRate, owners: this.owners };
    this.slots = types.map((type, s) => {
      const around = widths.map((before): SlotWidths => ({ before, after: widthAfter(type, before) }));
      around.forEach(({ after }, o) => (widths[o] = after));
      const states = owners.map((o) => o.chain[s]!);
      return new LaneSlot(format, states, around, { keyChannels: keyed[s]?.channels ?? 0, scalar });
    });
    this.allSeats = owners.map((_, index) => this.slots.map((slot) => ({ slot, index })));
    this.latency = this.slots.reduce((sum, s) => sum + s.latency, 0);
    this.keys = keys.map((key) => ({
      ...key,
      places: Array.from({ length: laneCount }, () => memory.floats(laneFrames)),
      x: memory.lanes(),
      lines: this.slots.map((s) => new LaneHold(memory.kernels, memory, s.latency)),
    }));
    this.taps = taps.map((tap) => {
      const end = tap.behind === types.length;
      const mono = owners.map((o) => widthAfterChain({ ...o, chain: o.chain.slice(0, tap.behind) }) === 1);
      return { ...tap, x: end ? this.x : memory.lanes(), spread: new SpreadLanes(memory, this.owners, mono) };
    });
  }

  seats(owner: number): readonly Seat[] {
    return this.allSeats[owner]!;
  }
  latencyOf(): number {
    return this.latency;
  }
  /** Planar channels of an owner to be written before `process`, and read after it. */
  channels(owner: number): readonly Float32Array[] {
    const { first, width } = this.owners[owner]!;
    return this.lanes.slice(first, first + width).map((p) => p.values);
  }
  /** Where the channels of an owner lie, one after the other. */
  pointer(owner: number): number {
    return this.lanes[this.owners[owner]!.first]!.pointer;
  }
  /** Planar channels of a key to be written before `process`. */
  keyChannels(owner: number, key: number): readonly Float32Array[] {
    const { first, width } = this.owners[owner]!;
    return this.keys[key]!.places.slice(first, first + width).map((p) => p.values);
  }
  /** Left and right of an owner at a tap, after `process`. */
  tapChannels(owner: number, tap: number): readonly Float32Array[] {
    return this.taps[tap]!.spread.channels(owner);
  }
  /** Frames by which what leaves a tap is behind what leaves the chain (negative: before it). */
  tapAhead(_owner: number, tap: number): number {
    return this.slots.slice(this.taps[tap]!.behind).reduce((sum, s) => sum + s.latency, 0);
  }
  /** Places an owner in all its taps; null: it has no pan. */
  setPan(owner: number, place: PanPlace | null): void {
    for (const { spread, panned } of this.taps)
      spread.set(owner, place && !panned ? { ...place, position: 0 } : place);
  }
  watch(owner: number): void {
    this.watched = owner;
    this.levels.clear();
  }
  takeLevels(out: Float64Array): number {
    return this.levels.take(out);
  }
  private measure(place: number): void {
    const { first, width } = this.owners[this.watched]!;
    for (let lane = first; lane < first + width; lane++)
      this.levels.add(place, this.block.values, lane, laneCount, 1 / width);
  }
  /** Largest sample of an owner at its first tap since the last call, linear. */
  takePeak(owner: number): number {
    return this.taps[0]?.spread.takePeak(owner) ?? 0;
  }
  /** Forgets all audio; settings stay, those of the section at `position` at once. */
  reset(position: number): void {
    for (const slot of this.slots) slot.reset(position);
    for (const { lines } of this.keys) for (const line of lines) line.reset();
    for (const { spread } of this.taps) spread.reset();
  }

  /** Runs the chains over one block, which is `late` frames behind what goes into the engine at `positions`. */
  process(positions: PositionLine, late: number): void {
    const n = laneFrames;
    const { kernels } = this.memory;
    const [a, b, c, d] = this.lanes as [Place, Place, Place, Place];
    kernels.interleave(a.pointer, b.pointer, c.pointer, d.pointer, this.x, n);
    for (const { places, x } of this.keys) {
      const [e, f, g, h] = places as [Place, Place, Place, Place];
      kernels.interleave(e.pointer, f.pointer, g.pointer, h.pointer, x, n);
    }
    if (this.watched >= 0) this.measure(0);
    this.tap(0);
    let behind = late;
    for (let s = 0; s < this.slots.length; s++) {
      const slot = this.slots[s]!;
      this.at.fill(positions.at(behind));
      slot.process(this.x, this.keyOf(s), n, this.at);
      for (const { lines, x } of this.keys) lines[s]!.process(x, x, n);
      behind += slot.latency;
      if (this.watched >= 0) this.measure(s + 1);
      this.tap(s + 1);
    }
    kernels.deinterleave(this.x, a.pointer, b.pointer, c.pointer, d.pointer, n);
  }
  private keyOf(slot: number): number {
    for (let k = 0; k < this.keys.length; k++) if (this.keys[k]!.slots.includes(slot)) return this.keys[k]!.x;
    return 0;
  }
  /** Hands on what has come through `done` slots. */
  private tap(done: number): void {
    for (let t = 0; t < this.taps.length; t++) {
      const { behind, x, spread } = this.taps[t]!;
      if (behind !== done) continue;
      if (x !== this.x) this.memory.kernels.copyFloats(this.x, x, laneCount * laneFrames);
      spread.process(x);
    }
  }

  /** Copies planar audio into the lanes of an owner; what it does not fill is silent. */
  feed(owner: number, input: Planar): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = 0; lane < width; lane++)
      if (lane < input.length) this.lanes[first + lane]!.values.set(input[lane]!);
      else this.lanes[first + lane]!.values.fill(0);
  }
}
