import type { AnyValues } from "../../params";
import { delayLatency, delayRing, designDelay, type DelaySetting } from "./delay";
import { fractionalTaps } from "../../signal/fractionalDelay";
import { laneCount, laneFrames, type LaneMemory } from "../../lanes/laneMemory";
import type { LaneOwner } from "../../lanes/laneOwner";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

type Place = ReturnType<LaneMemory["floats"]>;

/** Frames repeated behind the end of a ring: a block and the taps, in whole blocks. */
const margin = 2 * laneFrames;

/** Fractional delay: channels are read from rings of their own, since every owner reads at another place. */
export class DelayLanes implements LaneProcessor {
  readonly latency = delayLatency;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly rings: Place[];
  private readonly planar: Place[];
  private readonly moved: Place;
  private readonly taps: Place;
  private readonly settings: DelaySetting[];
  /** The setting of the last block, while the new one fades in. */
  private readonly before: (DelaySetting | null)[];
  private at = 0;

  constructor({ memory, owners }: LaneFormat) {
    this.memory = memory;
    this.owners = owners;
    this.rings = Array.from({ length: laneCount }, () => memory.floats(delayRing + margin + 8));
    this.planar = Array.from({ length: laneCount }, () => memory.floats(laneFrames));
    this.moved = memory.floats(laneFrames);
    this.taps = memory.floats(fractionalTaps);
    this.settings = owners.map(() => designDelay(0));
    this.before = owners.map(() => null);
  }
  set(owner: number, values: AnyValues): void {
    const delay = values["delay"] as number;
    const old = this.settings[owner]!;
    if (delay === old.delay) return;
    this.before[owner] ??= old;
    this.settings[owner] = designDelay(delay);
  }
  reset(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) this.rings[lane]!.values.fill(0);
    this.before[owner] = null;
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof DelayLanes)) return;
    const [to, other] = [this.owners[owner]!, from.owners[fromOwner]!];
    for (let lane = 0; lane < Math.min(to.width, other.width); lane++) {
      const ring = this.rings[to.first + lane]!.values;
      const old = from.rings[other.first + lane]!.values;
      const turned = (this.at - from.at + delayRing) & (delayRing - 1);
      ring.set(old.subarray(0, delayRing - turned), turned);
      ring.set(old.subarray(delayRing - turned, delayRing), 0);
      ring.copyWithin(delayRing, 0, margin);
    }
  }

  /** One channel of a ring at a setting into `out`. */
  private read(ring: Place, { whole, exact, taps }: DelaySetting, out: Place, frames: number): void {
    const { kernels } = this.memory;
    const lead = exact ? 0 : fractionalTaps / 2;
    const from = ring.pointer + 4 * ((this.at - whole - lead + 2 * delayRing) & (delayRing - 1));
    if (exact) return kernels.copyFloats(from, out.pointer, frames);
    for (let t = 0; t < fractionalTaps; t++) this.taps.values[t] = taps[t]!;
    kernels.convolve(this.taps.pointer, fractionalTaps, from, out.pointer, frames);
  }

  process(x: number, _dry: number, frames: number): void {
    const { kernels } = this.memory;
    const [a, b, c, d] = this.planar as [Place, Place, Place, Place];
    kernels.deinterleave(x, a.pointer, b.pointer, c.pointer, d.pointer, frames);
    for (let o = 0; o < this.owners.length; o++) {
      const { first, width } = this.owners[o]!;
      const before = this.before[o]!;
      for (let lane = first; lane < first + width; lane++) {
        const place = this.planar[lane]!;
        const ring = this.rings[lane]!;
        // Blocks divide the ring, so that writing never wraps within one.
        kernels.record(ring.pointer, delayRing, margin, this.at, place.pointer, frames);
        this.read(ring, this.settings[o]!, place, frames);
        if (!before) continue;
        this.read(ring, before, this.moved, frames);
        const y = place.values;
        const old = this.moved.values;
        for (let i = 0; i < frames; i++) y[i] = old[i]! + ((i + 1) / frames) * (y[i]! - old[i]!);
      }
      this.before[o] = null;
    }
    this.at = (this.at + frames) & (delayRing - 1);
    kernels.interleave(a.pointer, b.pointer, c.pointer, d.pointer, x, frames);
  }
}
