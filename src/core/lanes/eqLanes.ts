import type { AnyValues } from "../params";
import { designEqPlaces, eqPlaces } from "../processors/eq";
import { designRotation } from "../processors/rotation";
import type { Section } from "../signal/biquad";
import type { LaneFormat, LaneProcessor } from "./laneProcessor";
import { SectionRows } from "./sectionRows";

/** Filters over four lanes, each in a place of its own. */
class SectionLanes implements LaneProcessor {
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

/** Equaliser over four lanes. */
export const eqLanes = (format: LaneFormat): LaneProcessor =>
  new SectionLanes(format, eqPlaces, designEqPlaces);
/** Phase rotation over four lanes. */
export const rotationLanes = (format: LaneFormat): LaneProcessor =>
  new SectionLanes(format, 1, (values, sampleRate) => [designRotation(values, sampleRate)]);
