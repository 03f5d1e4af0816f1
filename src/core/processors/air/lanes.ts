import { designAir, type AirValues } from "./air";
import type { AnyValues } from "../../params";
import { BentLanes } from "../../lanes/bentLanes";
import { laneCount, type Rows } from "../../lanes/laneMemory";
import { putRow } from "../../lanes/laneOwner";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";
import { Oversampler } from "../../signal/oversampler";
import { bendBits } from "../harmonics/characters";
import * as layout from "../harmonics/rows";

const way = "4 times, steep";
const places = 2;

/** Air over four lanes, by the kernel of harmonics. */
export class AirLanes implements LaneProcessor {
  readonly latency = Oversampler.latency;
  private readonly params: Rows;
  private readonly bends: BentLanes;
  private readonly before: SectionRows;
  private readonly behind: SectionRows;
  private readonly side: number;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.params = memory.rows(layout.PARAMS);
    this.params.values.fill(1, laneCount * layout.DRIVE, laneCount * (layout.DRIVE + 1));
    this.bends = new BentLanes(format, this.params, [way]);
    this.before = new SectionRows(memory, owners, places);
    this.behind = new SectionRows(memory, owners, places);
    this.side = memory.lanes();
  }
  set(owner: number, values: AnyValues): void {
    const d = designAir(values as unknown as AirValues, this.format.sampleRate);
    // The kernel gives harmonics at the level of what came in; air's are as loud as the bend makes them.
    const written = {
      [layout.DRIVE]: d.drive,
      [layout.ODD]: d.odd * d.drive,
      [layout.EVEN]: d.even * d.drive,
      [layout.ROUNDED]: 1,
      [layout.SQUARED]: 1,
    };
    for (const [row, value] of Object.entries(written))
      putRow(this.params.values, Number(row), this.format.owners[owner]!, value);
    this.bends.choose(owner, way, bendBits.squared);
    this.before.set(owner, d.sections);
    this.behind.set(owner, d.sections);
  }
  reset(owner: number): void {
    for (const each of [this.bends, this.before, this.behind]) each.reset(owner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof AirLanes)) return;
    this.bends.adoptLine(owner, from.bends, fromOwner);
    this.before.adopt(owner, from.before, fromOwner);
    this.behind.adopt(owner, from.behind, fromOwner);
  }
  process(x: number, dry: number, frames: number): void {
    const { kernels } = this.format.memory;
    const floats = laneCount * frames;
    kernels.copyFloats(x, this.side, floats);
    this.before.process(this.side, frames);
    this.bends.process(this.side, 0, frames);
    this.behind.process(this.side, frames);
    kernels.addFloats(dry, this.side, 1, x, floats);
  }
}
