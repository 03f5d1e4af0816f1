import type { AnyValues } from "../params";
import type { Section } from "../signal/biquad";
import type { LaneFormat, LaneProcessor } from "./laneProcessor";
import { SectionRows } from "./sectionRows";

/** Filters over four lanes, each in a place of its own. */
export class SectionLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly sections: SectionRows;
  private readonly sampleRate: number;
  constructor(
    { memory, owners, sampleRate }: LaneFormat,
    places: number,
    private readonly design: (values: AnyValues, sampleRate: number) => (Section | null)[],
  ) {
    this.sections = new SectionRows(memory, owners, places);
    this.sampleRate = sampleRate;
  }
  set(owner: number, values: AnyValues): void {
    this.sections.set(owner, this.design(values, this.sampleRate));
  }
  reset(owner: number): void {
    this.sections.reset(owner);
  }
  process(x: number, _dry: number, frames: number): void {
    this.sections.process(x, frames);
  }
}
