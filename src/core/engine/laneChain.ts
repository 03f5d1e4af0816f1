import type { Planar } from "../processor";
import { laneCount, laneFrames, LaneHold, LaneMemory } from "../lanes/laneMemory";
import type { LaneOwner } from "../lanes/laneProcessor";
import { SpreadLanes } from "../lanes/spreadLanes";
import { processorType } from "../processors";
import type { ProcessorState } from "../song/song";
import type { PositionLine } from "./positionLine";
import type { SectionMap } from "./sectionValues";
import { LaneSlot, type SlotWidths } from "./laneSlot";
import type { SlotHandle } from "./slotHandle";

/** A mic or bus whose chain runs in lanes. */
export interface ChainOwner {
  readonly chain: readonly ProcessorState[];
  readonly channels: number;
}

type Place = ReturnType<LaneMemory["floats"]>;

/** Channels that come out of a processor. */
const widthAfter = (type: string, before: number): number => (processorType(type).widens ? 2 : before);
/** Channels that come out of a whole chain. */
export const widthAfterChain = ({ chain, channels }: ChainOwner): number =>
  chain.reduce((w, p) => widthAfter(p.type, w), channels);
/** Lanes a chain needs: the most channels anywhere in it. */
export const lanesOf = widthAfterChain; // no processor gives fewer channels than it takes

export interface LaneChainOptions {
  /** Channels of the signal that detectors listen to instead of their input; 0: none. */
  readonly keyChannels?: number;
  /** Which types of processors listen to it. */
  readonly keyed?: (type: string) => boolean;
  readonly scalar?: boolean;
  readonly pans?: boolean;
}

/**
 * The chains of up to four lanes of mics or buses, side by side: same types in the same order, each with values of its
 * own. Write `inputs`, call `process`, read `outputs`.
 */
export class LaneChain {
  readonly owners: readonly LaneOwner[];
  readonly slots: readonly LaneSlot[];
  readonly latency: number;
  /** Brings every owner to left and right behind its chain, when that was asked for. */
  readonly spread: SpreadLanes | null;
  /** One planar channel a lane. */
  private readonly lanes: Place[];
  private readonly keys: Place[];
  private readonly keyLines: LaneHold[] = [];
  private readonly keyed: readonly boolean[];
  private readonly x: number;
  private readonly keyX: number;

  /** Errors  RangeError for more than four lanes or chains of different types. */
  constructor(
    private readonly memory: LaneMemory,
    owners: readonly ChainOwner[],
    sampleRate: number,
    { keyChannels = 0, keyed = () => true, scalar = false, pans = false }: LaneChainOptions = {},
  ) {
    const types = owners[0]!.chain.map((p) => p.type);
    if (owners.some((o) => o.chain.length !== types.length || o.chain.some((p, i) => p.type !== types[i])))
      throw new RangeError("chains that run side by side must hold the same processors in the same order");
    let lane = 0;
    this.owners = owners.map((owner) => {
      const width = Math.max(lanesOf(owner), keyChannels);
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
    this.keys = Array.from({ length: laneCount }, () => memory.floats(laneFrames));
    this.x = memory.lanes();
    this.keyX = memory.lanes();
    const widths = owners.map((o) => o.channels);
    const format = { memory, sampleRate, owners: this.owners };
    this.slots = types.map((type, s) => {
      const around = widths.map((before): SlotWidths => ({ before, after: widthAfter(type, before) }));
      around.forEach(({ after }, o) => (widths[o] = after));
      const states = owners.map((o) => o.chain[s]!);
      return new LaneSlot(format, states, around, { keyChannels, scalar });
    });
    this.spread = pans ? new SpreadLanes(memory, this.owners, owners.map((o) => o.channels === 1)) : null; // prettier-ignore
    this.keyed = types.map((type) => keyChannels > 0 && keyed(type));
    this.latency = this.slots.reduce((sum, s) => sum + s.latency, 0);
    if (keyChannels > 0)
      this.keyLines = this.slots.map((s) => new LaneHold(memory.kernels, memory, s.latency));
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
  keyChannels(owner: number): readonly Float32Array[] {
    const { first, width } = this.owners[owner]!;
    return this.keys.slice(first, first + width).map((p) => p.values);
  }
  handles(owner: number): readonly SlotHandle[] {
    return this.slots.map((s) => s.handles[owner]!);
  }
  reductionDb(owner: number, slot: number): number {
    return this.slots[slot]!.reductionDb(owner);
  }

  bandGains(owner: number, slot: number, out: Float64Array): void {
    this.slots[slot]!.bandGains(owner, out);
  }

  take(owner: number, chain: readonly ProcessorState[], sections: SectionMap): void {
    for (let s = 0; s < chain.length; s++) this.slots[s]!.handles[owner]!.take(chain[s]!, sections);
  }
  setHits(owner: number, hits: Float64Array): void {
    for (const slot of this.slots) slot.setHits(owner, hits);
  }
  /** Forgets all audio; settings stay, those of the section at `position` at once. */
  reset(position: number): void {
    for (const slot of this.slots) slot.reset(position);
    for (const line of this.keyLines) line.reset();
    this.spread?.reset();
  }

  /** Runs the chains over one block, which is `late` frames behind what goes into the engine at `positions`. */
  process(positions: PositionLine, late: number): void {
    const n = laneFrames;
    const { kernels } = this.memory;
    const [a, b, c, d] = this.lanes as [Place, Place, Place, Place];
    kernels.interleave(a.pointer, b.pointer, c.pointer, d.pointer, this.x, n);
    const keyed = this.keyLines.length > 0;
    if (keyed) {
      const [e, f, g, h] = this.keys as [Place, Place, Place, Place];
      kernels.interleave(e.pointer, f.pointer, g.pointer, h.pointer, this.keyX, n);
    }
    let behind = late;
    for (let s = 0; s < this.slots.length; s++) {
      const slot = this.slots[s]!;
      slot.process(this.x, this.keyed[s] ? this.keyX : 0, n, positions.at(behind));
      if (keyed) this.keyLines[s]!.process(this.keyX, this.keyX, n);
      behind += slot.latency;
    }
    kernels.deinterleave(this.x, a.pointer, b.pointer, c.pointer, d.pointer, n);
    this.spread?.process(this.x);
  }

  /** Copies planar audio into the lanes of an owner; what it does not fill is silent. */
  feed(owner: number, input: Planar): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = 0; lane < width; lane++)
      if (lane < input.length) this.lanes[first + lane]!.values.set(input[lane]!);
      else this.lanes[first + lane]!.values.fill(0);
  }
}
