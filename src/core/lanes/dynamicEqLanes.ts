import type { AnyValues } from "../params";
import { designBand, dynamicBands, dynamicEqLatency, type BandShape } from "../processors/dynamicEq";
import { Detector } from "./detector";
import { HitMasks } from "./hitMasks";
import { clearLane, laneCount, type LaneMemory, type Rows } from "./laneMemory";
import {
  putRow,
  type LaneContext,
  type LaneFormat,
  type LaneOwner,
  type LaneProcessor,
} from "./laneProcessor";

const gainRow = 6;
const designedRow = 7;

/** Parameters and state of one band over four lanes. */
class BandLanes {
  readonly params: Rows;
  readonly state: Rows;
  readonly shapes: BandShape[];
  constructor(
    memory: LaneMemory,
    private readonly owners: readonly LaneOwner[],
  ) {
    this.params = memory.rows(16);
    this.state = memory.rows(14);
    this.shapes = owners.map(() => "off");
    for (const owner of owners) putRow(this.params.values, 15, owner, owner.paired ? 1 : 0);
  }
  set(owner: number, values: AnyValues, name: string, byLevel: boolean, sampleRate: number): void {
    const d = designBand(values, name, sampleRate);
    const { shape } = d;
    this.shapes[owner] = shape;
    const is = (wanted: BandShape) => (shape === wanted ? 1 : 0);
    const rows = [is("low shelf"), is("high shelf"), is("bell"), d.g, d.k, d.d1, d.d2, d.d3, d.restDb, d.rangeDb, d.threshold, d.attack, d.release, d.holdFrames, byLevel ? 1 : 0]; // prettier-ignore
    rows.forEach((value, r) => putRow(this.params.values, r, this.owners[owner]!, value));
    putRow(this.state.values, designedRow, this.owners[owner]!, NaN);
  }
  reset(owner: number): void {
    const lanes = this.owners[owner]!;
    for (let lane = lanes.first; lane < lanes.first + lanes.width; lane++) clearLane(this.state.values, lane);
    putRow(this.state.values, designedRow, lanes, NaN);
  }
}

/** Dynamic EQ over four lanes. */
export class DynamicEqLanes implements LaneProcessor {
  readonly latency: number;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly sampleRate: number;
  private readonly bands: BandLanes[];
  private readonly detector: Detector;
  private readonly masks: HitMasks;
  private readonly byHits: boolean[];

  constructor(format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.memory = memory;
    this.owners = owners;
    this.sampleRate = sampleRate;
    this.latency = dynamicEqLatency(sampleRate);
    this.bands = dynamicBands.map(() => new BandLanes(memory, owners));
    this.detector = new Detector(format, 0);
    this.masks = new HitMasks(memory, owners);
    this.byHits = owners.map(() => false);
  }
  set(owner: number, values: AnyValues): void {
    this.byHits[owner] = values["opens"] !== "level";
    this.bands.forEach((band, i) =>
      band.set(owner, values, dynamicBands[i]!, values["opens"] !== "hits", this.sampleRate),
    );
  }
  reset(owner: number): void {
    for (const band of this.bands) band.reset(owner);
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { kernels } = this.memory;
    const struck = this.masks.mark(context.hits, this.byHits, context.position, frames);
    const heard = this.detector.hearApart(x, frames, context);
    kernels.hold(0, 0, 0, dry, x, frames);
    for (const { params, state, shapes } of this.bands)
      if (shapes.some((s) => s !== "off"))
        kernels.dynamicBand(params.pointer, state.pointer, heard, struck, x, frames);
  }
  reductionDb(owner: number): number {
    const [low, high] = this.bands as [BandLanes, BandLanes];
    const band = high.shapes[owner] === "off" ? low : high;
    return -band.state.values[laneCount * gainRow + this.owners[owner]!.first]!;
  }
}
