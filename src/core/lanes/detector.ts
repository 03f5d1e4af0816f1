import type { Section } from "../signal/biquad";
import { laneCount, laneFrames } from "./laneMemory";
import type { LaneContext, LaneFormat } from "./laneProcessor";
import { SectionRows } from "./sectionRows";

/** What a detector hears: the key or the input, through filters of its own when some lane has them. */
export class Detector {
  private readonly copy: number;
  private readonly filters: SectionRows;
  private readonly kernels;
  constructor(format: LaneFormat, places: number) {
    this.copy = format.memory.lanes(laneFrames);
    this.filters = new SectionRows(format.memory, format.owners, places);
    this.kernels = format.memory.kernels;
  }
  set(owner: number, sections: readonly Section[]): void {
    this.filters.set(owner, sections);
  }
  reset(owner: number): void {
    this.filters.reset(owner);
  }
  /** Some lane has filters. */
  get filtering(): boolean {
    return this.filters.used !== 0;
  }
  adopt(owner: number, from: Detector, fromOwner: number): void {
    this.filters.adopt(owner, from.filters, fromOwner);
  }
  /** Lanes of the detector's signal; the input itself where nothing filters it. */
  hear(x: number, frames: number, { key }: LaneContext): number {
    const source = key || x;
    if (this.filters.used === 0) return source;
    return this.filtered(source, frames);
  }
  /** As `hear`, always apart from the input. */
  hearApart(x: number, frames: number, { key }: LaneContext): number {
    return this.filtered(key || x, frames);
  }
  private filtered(source: number, frames: number): number {
    this.kernels.copyFloats(source, this.copy, laneCount * frames);
    this.filters.process(this.copy, frames);
    return this.copy;
  }
}
