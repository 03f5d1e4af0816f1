import type { AnyValues } from "../params";
import { designEqPlaces, eqPlaces } from "../processors/eq";
import type { LaneFormat, LaneProcessor } from "./laneProcessor";
import { SectionRows } from "./sectionRows";

/** Equaliser over four lanes. */
export class EqLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly sections: SectionRows;
  private readonly sampleRate: number;
  constructor({ memory, owners, sampleRate }: LaneFormat) {
    this.sections = new SectionRows(memory, owners, eqPlaces);
    this.sampleRate = sampleRate;
  }
  set(owner: number, values: AnyValues): void {
    this.sections.set(owner, designEqPlaces(values, this.sampleRate));
  }
  reset(owner: number): void {
    this.sections.reset(owner);
  }
  process(x: number, _dry: number, frames: number): void {
    this.sections.process(x, frames);
  }
}
