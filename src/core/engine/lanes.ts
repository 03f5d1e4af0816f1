import type { PanPlace } from "../signal/pan";
import type { Planar } from "../processor";
import type { ProcessorState } from "../song/song";
import type { LaneSlot } from "./laneSlot";
import type { PositionLine } from "./positionLine";
import type { SectionMap } from "./sectionValues";
import type { SlotHandle } from "./slotHandle";

/** One processor of an owner: the slot that runs it, and which of the slot's owners it is. */
export interface Seat {
  readonly slot: LaneSlot;
  readonly index: number;
}

/** Chains of mics or buses that run side by side in vectors: write `feed`, call `process`, read `channels` or taps. */
export interface Lanes {
  /** Processors of an owner, in the order of its chain. */
  seats(owner: number): readonly Seat[];
  latencyOf(owner: number): number;
  /** Planar channels of an owner, to be read after `process`. */
  channels(owner: number): readonly Float32Array[];
  /** Where they lie, one after the other. */
  pointer(owner: number): number;
  /** Planar channels of a key, to be written before `process`. */
  keyChannels(owner: number, key: number): readonly Float32Array[];
  /** Left and right of an owner at a tap, after `process`. */
  tapChannels(owner: number, tap: number): readonly Float32Array[];
  /** Frames by which what leaves a tap is ahead of what leaves the chain. */
  tapAhead(owner: number, tap: number): number;
  /** Places an owner in all its taps, %; null: it has no pan. */
  setPan(owner: number, place: PanPlace | null): void;
  /** Largest sample of an owner at its first tap since the last call, linear. */
  takePeak(owner: number): number;
  /** Measures from now on what comes into an owner's chain and leaves each processor; -1: of none. */
  watch(owner: number): void;
  /**
   * Peak (linear) and mean power since the last call, before the first processor and behind each: two numbers a place into
   * `out`. Returns how many places.
   */
  takeLevels(out: Float64Array): number;
  /** Copies planar audio into the lanes of an owner; what it does not fill is silent. */
  feed(owner: number, input: Planar): void;
  /** Forgets all audio; settings stay, those of the section at `position` at once. */
  reset(position: number): void;
  /** Runs the chains over one block, which is `late` frames behind what goes into the engine at `positions`. */
  process(positions: PositionLine, late: number): void;
}

export const handlesOf = (lanes: Lanes, owner: number): SlotHandle[] =>
  lanes.seats(owner).map(({ slot, index }) => slot.handles[index]!);
export const reductionOf = (lanes: Lanes, owner: number, place: number): number => {
  const seat = lanes.seats(owner)[place];
  return seat ? seat.slot.reductionDb(seat.index) : 0;
};
export function bandGainsOf(lanes: Lanes, owner: number, place: number, out: Float64Array): void {
  const seat = lanes.seats(owner)[place];
  seat?.slot.bandGains(seat.index, out);
}
/** Takes values and switches of a chain with the same processors. */
export function takeChain(
  lanes: Lanes,
  owner: number,
  chain: readonly ProcessorState[],
  sections: SectionMap,
): void {
  lanes.seats(owner).forEach(({ slot, index }, i) => slot.handles[index]!.take(chain[i]!, sections));
}
/** Tells every processor of an owner the beats of the song, frames. */
export function setBeats(lanes: Lanes, owner: number, beats: Float64Array): void {
  for (const { slot } of lanes.seats(owner)) slot.setBeats(beats);
}
export function setHits(lanes: Lanes, owner: number, hits: Float64Array): void {
  for (const { slot, index } of lanes.seats(owner)) slot.setHits(index, hits);
}
/** What is taken over from another engine: with `lines` also audio that waits, which is right while both hear the same. */
export interface Adopted {
  readonly lines: boolean;
}
/** Takes over what an owner's processors remember elsewhere, those that are the same by id. */
export function adoptChain(
  to: Lanes,
  owner: number,
  from: Lanes,
  fromOwner: number,
  { lines }: Adopted,
): void {
  for (const { slot, index } of to.seats(owner)) {
    const other = from.seats(fromOwner).find((s) => s.slot.handles[s.index]!.id === slot.handles[index]!.id);
    if (!other) continue;
    slot.adopt(index, other.slot, other.index);
    if (lines) slot.adoptLine(index, other.slot, other.index);
  }
}

/** Follows peak and mean power of one owner at every place of its chain. */
export class PlaceLevels {
  private frames = 0;
  private readonly values: Float64Array;
  constructor(private readonly places: number) {
    this.values = new Float64Array(2 * places);
  }
  clear(): void {
    this.values.fill(0);
    this.frames = 0;
  }
  /** One channel in every `stride`-th value from `from` on; `share`: of the owner's channels. */
  add(place: number, x: Float32Array, from: number, stride: number, share: number): void {
    let peak = this.values[2 * place]!;
    let power = 0;
    let frames = 0;
    for (let i = from; i < x.length; i += stride) {
      const v = x[i]!;
      power += v * v;
      const size = v < 0 ? -v : v;
      if (size > peak) peak = size;
      frames++;
    }
    this.values[2 * place] = peak;
    this.values[2 * place + 1] = this.values[2 * place + 1]! + share * power;
    if (place === 0) this.frames += share * frames;
  }
  take(out: Float64Array): number {
    const frames = Math.max(1, this.frames);
    for (let p = 0; p < this.places; p++) {
      out[2 * p] = this.values[2 * p]!;
      out[2 * p + 1] = this.values[2 * p + 1]! / frames;
    }
    this.clear();
    return this.places;
  }
}
