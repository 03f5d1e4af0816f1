import type { AnyValues } from "../../params";
import type { Rows } from "../../lanes/laneMemory";
import { putRow } from "../../lanes/laneOwner";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";
import { bellCount, designEqSides, eqPlaces } from "./eq";

/** EQ over four lanes: bands of both sides or of one, then those of mid and side in pairs that have such. */
export class EqLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly plain: SectionRows;
  private readonly turned: SectionRows;
  /** 1 in the lanes of pairs that have bands of mid or side. */
  private readonly pairs: Rows;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.plain = new SectionRows(memory, owners, eqPlaces);
    this.turned = new SectionRows(memory, owners, bellCount);
    this.pairs = memory.rows(1);
  }
  set(owner: number, values: AnyValues): void {
    const lanes = this.format.owners[owner]!;
    const { one, left, right, mid, side, split } = designEqSides(values, this.format.sampleRate);
    const pair = lanes.width > 1;
    if (pair) this.plain.set(owner, left, right);
    else this.plain.set(owner, one);
    this.turned.set(owner, pair ? mid : [], pair ? side : []);
    putRow(this.pairs.values, 0, lanes, Number(pair && split));
  }
  reset(owner: number): void {
    this.plain.reset(owner);
    this.turned.reset(owner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof EqLanes)) return;
    this.plain.adopt(owner, from.plain, fromOwner);
    this.turned.adopt(owner, from.turned, fromOwner);
  }
  process(x: number, _dry: number, frames: number): void {
    this.plain.process(x, frames);
    if (this.turned.used === 0) return;
    const { kernels } = this.format.memory;
    kernels.midSide(this.pairs.pointer, 0.5, x, frames);
    this.turned.process(x, frames);
    kernels.midSide(this.pairs.pointer, 1, x, frames);
  }
}
