import type { AnyValues } from "../params";
import type { Kernels } from "../kernels/kernels";
import type { Rows } from "./laneMemory";
import { putRow, type LaneOwner } from "./laneOwner";
import type { LaneFormat, LaneProcessor } from "./laneProcessor";

/** A gain per owner that glides within a block: trim and polarity. */
export class GainLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly kernels: Kernels;
  private readonly owners: readonly LaneOwner[];
  private readonly gains: Rows; // now, then wanted
  private readonly fresh: boolean[];

  constructor(
    { memory, owners }: LaneFormat,
    private readonly gainOf: (values: AnyValues) => number,
  ) {
    this.kernels = memory.kernels;
    this.owners = owners;
    this.gains = memory.rows(2);
    this.fresh = owners.map(() => true);
  }
  set(owner: number, values: AnyValues): void {
    const gain = this.gainOf(values);
    putRow(this.gains.values, 1, this.owners[owner]!, gain);
    if (this.fresh[owner]) putRow(this.gains.values, 0, this.owners[owner]!, gain);
  }
  reset(owner: number): void {
    const lanes = this.owners[owner]!;
    putRow(this.gains.values, 0, lanes, this.gains.values[4 + lanes.first]!);
    this.fresh[owner] = true;
  }
  process(x: number, _dry: number, frames: number): void {
    this.kernels.glideGain(x, this.gains.pointer, frames);
    this.fresh.fill(false);
  }
}
