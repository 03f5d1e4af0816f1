import type { AnyValues } from "../params";
import { designGate, gateLatency, type GateValues } from "../processors/gate";
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

/** Decisions kept for the look-ahead; as in the kernel. */
const waiting = 2048;
const gainRow = 2;

/** Gate over four lanes. */
export class GateLanes implements LaneProcessor {
  readonly latency: number;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly params: Rows;
  private readonly state: Rows;
  private readonly wait: { pointer: number; values: Int32Array };
  private readonly detector: Detector;
  private readonly masks: HitMasks;
  private readonly byHits: boolean[];
  private readonly floors: number[];
  private readonly sampleRate: number;
  private at = 0;

  constructor(format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.memory = memory;
    this.owners = owners;
    this.sampleRate = sampleRate;
    this.latency = gateLatency(sampleRate);
    this.params = memory.rows(9);
    this.state = memory.rows(3);
    this.wait = memory.words(laneCount * waiting);
    this.detector = new Detector(format, 2);
    this.masks = new HitMasks(memory, owners);
    this.byHits = owners.map(() => false);
    this.floors = owners.map(() => 1);
    for (const owner of owners) putRow(this.params.values, 3, owner, owner.paired ? 1 : 0);
  }
  set(owner: number, values: AnyValues): void {
    const design = designGate(values as unknown as GateValues, this.sampleRate);
    const { byLevel, up, down, holdFrames, waitFrames, attack, release, floor } = design;
    const put = (row: number, value: number) => putRow(this.params.values, row, this.owners[owner]!, value);
    put(0, up);
    put(1, down);
    put(2, byLevel ? 1 : 0);
    put(4, holdFrames);
    put(5, waitFrames);
    put(6, attack);
    put(7, release);
    put(8, floor);
    this.byHits[owner] = design.byHits;
    this.floors[owner] = floor;
    this.detector.set(owner, design.sections);
  }
  reset(owner: number): void {
    const lanes = this.owners[owner]!;
    for (let lane = lanes.first; lane < lanes.first + lanes.width; lane++) {
      clearLane(this.state.values, lane);
      clearLane(this.wait.values, lane);
    }
    putRow(this.state.values, gainRow, lanes, this.floors[owner]!);
    this.detector.reset(owner);
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const struck = this.masks.mark(context.hits, this.byHits, context.position, frames);
    const heard = this.detector.hear(x, frames, context);
    this.memory.kernels.gate(
      this.params.pointer,
      this.state.pointer,
      this.wait.pointer,
      this.at,
      heard,
      struck,
      dry,
      x,
      frames,
    );
    this.at = (this.at + frames) & (waiting - 1);
  }
  reductionDb(owner: number): number {
    const gain = this.state.values[laneCount * gainRow + this.owners[owner]!.first]!;
    return -20 * Math.log10(Math.max(gain, 1e-5));
  }
}
