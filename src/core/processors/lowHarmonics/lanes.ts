import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designLowHarmonics, type LowHarmonicsValues } from "./lowHarmonics";
import { KernelRows } from "../../lanes/kernelRows";
import { laneCount } from "../../lanes/laneMemory";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";

/** Low harmonics over four lanes. */
export class LowHarmonicsLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly rows: KernelRows;
  private readonly lows: SectionRows;
  private readonly bells: SectionRows;
  private readonly low: number;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.lows = new SectionRows(memory, owners, 1);
    this.bells = new SectionRows(memory, owners, 1);
    this.low = memory.lanes();
  }
  set(owner: number, values: AnyValues): void {
    const d = designLowHarmonics(values as unknown as LowHarmonicsValues, this.format.sampleRate);
    this.rows.set(owner, {
      [layout.A1]: d.a1,
      [layout.A2]: d.a2,
      [layout.A3]: d.a3,
      [layout.SECOND]: d.gains[0]!,
      [layout.THIRD]: d.gains[1]!,
      [layout.FOURTH]: d.gains[2]!,
      [layout.FIFTH]: d.gains[3]!,
    });
    this.lows.set(owner, d.low);
    this.bells.set(owner, d.bell);
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.lows.reset(owner);
    this.bells.reset(owner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof LowHarmonicsLanes)) return;
    this.rows.adopt(owner, from.rows, fromOwner);
    this.lows.adopt(owner, from.lows, fromOwner);
    this.bells.adopt(owner, from.bells, fromOwner);
  }
  process(x: number, _dry: number, frames: number): void {
    const { kernels } = this.format.memory;
    const { params, state } = this.rows;
    kernels.copyFloats(x, this.low, laneCount * frames);
    this.lows.process(this.low, frames);
    this.bells.process(x, frames);
    kernels.lowHarmonics(params.pointer, state.pointer, this.low, x, frames);
  }
}
