import type { AnyValues } from "../params";
import { designCompressor, type CompressorValues } from "../processors/compressor";
import { dbToGain } from "../signal/level";
import { Detector } from "./detector";
import { clearLane, laneCount, type LaneMemory, type Rows } from "./laneMemory";
import {
  putRow,
  type LaneContext,
  type LaneFormat,
  type LaneOwner,
  type LaneProcessor,
} from "./laneProcessor";

const deepestRow = 2;

/** Compressor over four lanes. */
export class CompressorLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly sampleRate: number;
  private readonly params: Rows;
  private readonly state: Rows;
  private readonly detector: Detector;
  private readonly rms: boolean[];

  constructor(format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.memory = memory;
    this.owners = owners;
    this.sampleRate = sampleRate;
    this.params = memory.rows(13);
    this.state = memory.rows(3);
    this.detector = new Detector(format, 1);
    this.rms = owners.map(() => false);
    for (const owner of owners) putRow(this.params.values, 10, owner, owner.paired ? 1 : 0);
  }
  set(owner: number, values: AnyValues): void {
    const d = designCompressor(values as unknown as CompressorValues, this.sampleRate);
    const row = [d.bend, d.knee, d.slope, d.curve, d.up, d.down, d.makeup, d.wet, d.rms ? 1 : 0, d.average];
    putRow(this.params.values, 11, this.owners[owner]!, dbToGain(d.bend));
    putRow(this.params.values, 12, this.owners[owner]!, 1 - d.wet + d.wet * dbToGain(d.makeup));
    row.forEach((value, r) => putRow(this.params.values, r, this.owners[owner]!, value));
    this.rms[owner] = d.rms;
    this.detector.set(owner, d.sections);
  }
  reset(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.state.values, lane);
    this.detector.reset(owner);
  }
  process(x: number, _dry: number, frames: number, context: LaneContext): void {
    const rms = this.rms.includes(true) ? 1 : 0;
    const heard = this.detector.hear(x, frames, context);
    this.memory.kernels.compressor(this.params.pointer, this.state.pointer, rms, heard, x, frames);
  }
  reductionDb(owner: number): number {
    return this.state.values[laneCount * deepestRow + this.owners[owner]!.first]!;
  }
}
