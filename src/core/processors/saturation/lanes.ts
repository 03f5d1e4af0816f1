import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designSaturation, type SaturationValues } from "./saturation";
import { BentLanes } from "../../lanes/bentLanes";
import { putRow } from "../../lanes/laneOwner";
import type { Rows } from "../../lanes/laneMemory";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { Oversampler } from "../../signal/oversampler";

/** Bits by which the kernel knows which bends it must compute. */
const characterBits = { soft: 1, rounded: 2, hard: 4 } as const;

/** Saturation over four lanes. */
export class SaturationLanes implements LaneProcessor {
  readonly latency = Oversampler.latency;
  private readonly params: Rows;
  private readonly bends: BentLanes;

  constructor(private readonly format: LaneFormat) {
    this.params = format.memory.rows(layout.PARAMS);
    this.bends = new BentLanes(format, this.params);
  }
  set(owner: number, values: AnyValues): void {
    const v = values as unknown as SaturationValues;
    const d = designSaturation(v);
    const written = {
      [layout.DRIVE]: d.drive,
      [layout.BIAS]: d.bias,
      [layout.CENTRE]: d.centre,
      [layout.WET]: d.wet,
      [layout.STRAIGHT]: d.straight,
      [layout.HARD]: d.character === "hard" ? 1 : 0,
      [layout.ROUNDED]: d.character === "rounded" ? 1 : 0,
    };
    for (const [row, value] of Object.entries(written))
      putRow(this.params.values, Number(row), this.format.owners[owner]!, value);
    this.bends.choose(owner, v.oversampling, characterBits[d.character]);
  }
  reset(owner: number): void {
    this.bends.reset(owner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (from instanceof SaturationLanes) this.bends.adoptLine(owner, from.bends, fromOwner);
  }
  process(x: number, dry: number, frames: number): void {
    this.bends.process(x, dry, frames);
  }
}
