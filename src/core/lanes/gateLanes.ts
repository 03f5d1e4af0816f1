import type { AnyValues } from "../params";
import { designGate, gateLatency, type GateValues } from "../processors/gate";
import { Detector } from "./detector";
import { HitMasks } from "./hitMasks";
import { KernelRows } from "./kernelRows";
import { clearLane, laneCount } from "./laneMemory";
import type { LaneContext, LaneFormat, LaneProcessor } from "./laneProcessor";

/** Decisions kept for the look-ahead; as in the kernel. */
const waiting = 2048;
const gainRow = 2;

/** Gate over four lanes. */
export class GateLanes implements LaneProcessor {
  readonly latency: number;
  private readonly rows: KernelRows;
  private readonly wait: { pointer: number; values: Int32Array };
  private readonly detector: Detector;
  private readonly masks: HitMasks;
  private readonly byHits: boolean[];
  private readonly floors: number[];
  private at = 0;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.latency = gateLatency(sampleRate);
    this.rows = new KernelRows(memory, owners, { params: 9, state: 3 });
    this.wait = memory.words(laneCount * waiting);
    this.detector = new Detector(format, 2);
    this.masks = new HitMasks(memory, owners);
    this.byHits = owners.map(() => false);
    this.floors = owners.map(() => 1);
  }
  set(owner: number, values: AnyValues): void {
    const { sampleRate, paired } = this.format;
    const d = designGate(values as unknown as GateValues, sampleRate);
    const rows = [d.up, d.down, Number(d.byLevel), Number(paired[owner]), d.holdFrames, d.waitFrames, d.attack, d.release, d.floor]; // prettier-ignore
    this.rows.set(owner, rows);
    this.byHits[owner] = d.byHits;
    this.floors[owner] = d.floor;
    this.detector.set(owner, d.sections);
  }
  reset(owner: number): void {
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.wait.values, lane);
    this.rows.clear(owner);
    this.rows.put(owner, gainRow, this.floors[owner]!);
    this.detector.reset(owner);
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { params, state } = this.rows;
    const struck = this.masks.mark(context.hits, this.byHits, context.position, frames);
    const heard = this.detector.hear(x, frames, context);
    const { kernels } = this.format.memory;
    kernels.gate(params.pointer, state.pointer, this.wait.pointer, this.at, heard, struck, dry, x, frames);
    this.at = (this.at + frames) & (waiting - 1);
  }
  reductionDb(owner: number): number {
    return -20 * Math.log10(Math.max(this.rows.read(owner, gainRow), 1e-5));
  }
}
