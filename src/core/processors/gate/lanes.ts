import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designGate, gateLatency, hearFrames, type GateValues } from "./gate";
import { Detector } from "../../lanes/detector";
import { HitMasks } from "../../lanes/hitMasks";
import { KernelRows } from "../../lanes/kernelRows";
import { clearLane, laneCount, laneFrames, LaneHold, copyTurned, type Rows } from "../../lanes/laneMemory";
import { putRow } from "../../lanes/laneOwner";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

/** Decisions kept for the look-ahead; as in the kernel. */
const waiting = 2048;

/** Gate over four lanes. */
export class GateLanes implements LaneProcessor {
  readonly latency: number;
  private readonly rows: KernelRows;
  private readonly wait: { pointer: number; values: Int32Array };
  private readonly detector: Detector;
  private readonly masks: HitMasks;
  private readonly byHits: boolean[];
  private readonly floors: number[];
  /** Owners whose detector is heard, and the share of the gated side in what comes out of each. */
  private readonly detectors: boolean[];
  private readonly gated: number[];
  private readonly heardLate: LaneHold;
  private readonly late: { pointer: number };
  private readonly shares: Rows;
  private at = 0;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.latency = gateLatency(sampleRate);
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.wait = memory.words(laneCount * waiting);
    this.detector = new Detector(format, 2);
    this.masks = new HitMasks(memory, owners);
    this.byHits = owners.map(() => false);
    this.floors = owners.map(() => 1);
    this.detectors = owners.map(() => false);
    this.gated = owners.map(() => 1);
    this.heardLate = new LaneHold(memory.kernels, memory, this.latency);
    this.late = memory.floats(laneCount * laneFrames);
    this.shares = memory.rows(2);
  }
  set(owner: number, values: AnyValues): void {
    const { sampleRate, paired } = this.format;
    const d = designGate(values as unknown as GateValues, sampleRate);
    this.rows.set(owner, {
      [layout.UP]: d.up,
      [layout.DOWN]: d.down,
      [layout.BY_LEVEL]: Number(d.byLevel),
      [layout.PAIRED]: Number(paired[owner]),
      [layout.HOLD]: d.holdFrames,
      [layout.WAIT]: d.waitFrames,
      [layout.ATTACK]: d.attack,
      [layout.RELEASE]: d.release,
      [layout.FLOOR]: d.floor,
    });
    this.byHits[owner] = d.byHits;
    this.floors[owner] = d.floor;
    this.detectors[owner] = d.detector;
    this.detector.set(owner, d.sections);
  }
  reset(owner: number): void {
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.wait.values, lane);
    this.rows.clear(owner);
    this.rows.put(owner, layout.GAIN, this.floors[owner]!);
    this.detector.reset(owner);
    this.gated[owner] = this.detectors[owner] ? 0 : 1;
    if (!this.apart()) this.heardLate.reset();
  }
  /** Open stays open: the hold, the gain and the decisions that still wait go on. */
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof GateLanes)) return;
    this.rows.adopt(owner, from.rows, fromOwner);
    this.detector.adopt(owner, from.detector, fromOwner);
    const [to, other] = [this.format.owners[owner]!, from.format.owners[fromOwner]!];
    copyTurned(this.wait.values, this.at, to, from.wait.values, from.at, other);
  }
  /** True when some detector is heard, or is just left. */
  private apart(): boolean {
    for (let o = 0; o < this.gated.length; o++) if (this.detectors[o] || this.gated[o]! < 1) return true;
    return false;
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { params, state } = this.rows;
    const struck = this.masks.mark(context.hits, this.byHits, context.positions, frames);
    const heard = this.detector.hear(x, frames, context);
    const { kernels } = this.format.memory;
    const apart = this.apart();
    if (apart) this.heardLate.process(heard, this.late.pointer, frames);
    kernels.gate(params.pointer, state.pointer, this.wait.pointer, this.at, heard, struck, dry, x, frames);
    if (apart) this.fade(x, frames);
    this.at = (this.at + frames) & (waiting - 1);
  }
  /** Fades every owner between its gated side and what its detector hears. */
  private fade(x: number, frames: number): void {
    const { owners, memory } = this.format;
    for (let o = 0; o < owners.length; o++) {
      const step = (this.detectors[o] ? -1 : 1) / hearFrames;
      putRow(this.shares.values, 0, owners[o]!, this.gated[o]!);
      putRow(this.shares.values, 1, owners[o]!, step);
      this.gated[o] = Math.min(1, Math.max(0, this.gated[o]! + step * frames));
    }
    memory.kernels.fade(x, this.late.pointer, this.shares.pointer, frames);
  }
  reductionDb(owner: number): number {
    return -20 * Math.log10(Math.max(this.rows.read(owner, layout.GAIN), 1e-5));
  }
}
