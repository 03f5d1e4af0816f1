import * as layout from "./rows";
import type { AnyValues } from "../../params";
import {
  clipperLatency,
  designClipper,
  overshoot,
  pastFrames,
  reductionOf,
  type ClipperDesign,
  type ClipperValues,
} from "./clipper";
import { KernelRows } from "../../lanes/kernelRows";
import { clearLane, laneCount, laneFrames } from "../../lanes/laneMemory";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { halfBands, Oversampler } from "../../signal/oversampler";

/** Clipper over four lanes. They sleep together while nothing of any can be over its ceiling. */
export class ClipperLanes implements LaneProcessor {
  readonly latency = clipperLatency;
  private readonly rows: KernelRows;
  private readonly designs: (ClipperDesign | null)[];
  private readonly taps;
  private readonly up;
  private readonly down;
  private readonly fast: number;
  private readonly twice: number;
  private readonly over: number;
  /** The end of the last block, its largest samples, and those of this one. */
  private readonly past;
  private readonly before;
  private readonly now;
  /** Frames for which the filters behind the curve still hold something. */
  private ringing = 0;
  private asleep = true;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    const { upFourState, downFourState } = memory.kernels;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.designs = owners.map(() => null);
    const taps = [...halfBands.up, ...halfBands.wide, ...halfBands.down];
    this.taps = memory.floats(taps.length);
    this.taps.values.set(taps);
    this.up = memory.floats(upFourState.value / 4);
    this.down = memory.floats(downFourState.value / 4);
    this.fast = memory.lanes(4 * laneFrames);
    this.twice = memory.lanes(2 * laneFrames);
    this.over = memory.lanes();
    this.past = memory.floats(laneCount * pastFrames);
    this.before = memory.floats(laneCount);
    this.now = memory.floats(laneCount);
  }
  set(owner: number, values: AnyValues): void {
    const d = designClipper(values as unknown as ClipperValues);
    this.designs[owner] = d;
    this.rows.set(owner, {
      [layout.DRIVE]: d.drive,
      [layout.KNEE]: d.knee,
      [layout.STRAIGHT]: d.straight,
      [layout.CUT]: d.cut,
    });
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++)
      for (const { values } of [this.up, this.down, this.past, this.before]) clearLane(values, lane);
  }
  process(x: number, dry: number, frames: number): void {
    const { kernels } = this.format.memory;
    const { params, state } = this.rows;
    const { taps, fast, over, up } = this;
    kernels.largest(x, this.now.pointer, frames);
    if (this.ringing === 0 && this.isQuiet()) {
      this.asleep = true;
      this.remember(x, frames);
      kernels.clearFloats(over, laneCount * frames);
    } else {
      if (this.asleep) this.wake();
      this.remember(x, frames);
      kernels.upFour(up.pointer, taps.pointer, x, fast, frames);
      kernels.clip(params.pointer, state.pointer, fast, 4 * frames);
      this.bringDown(frames);
    }
    kernels.clipMix(params.pointer, dry, over, x, frames);
  }
  /** What was found, at the song's rate. Filters that hold nothing give nothing: they run only while something is cut. */
  private bringDown(frames: number): void {
    const { kernels } = this.format.memory;
    const most = this.rows.state.values.subarray(laneCount * layout.MOST, laneCount * (layout.MOST + 1));
    if (most.some((v) => v > 0)) this.ringing = Oversampler.latency * 2 + frames;
    if (this.ringing > 0)
      kernels.downFour(this.down.pointer, this.taps.pointer, this.fast, this.twice, this.over, frames);
    else kernels.clearFloats(this.over, laneCount * frames);
    this.ringing = Math.max(0, this.ringing - frames);
  }
  /** Nothing of any lane can be over its ceiling in this block. */
  private isQuiet(): boolean {
    return this.designs.every((d, owner) => {
      const { first, width } = this.format.owners[owner]!;
      let near = 0;
      for (let lane = first; lane < first + width; lane++)
        near = Math.max(near, this.now.values[lane]!, this.before.values[lane]!);
      return d === null || d.drive * near * overshoot <= d.curve.begin;
    });
  }
  private remember(x: number, frames: number): void {
    const { kernels } = this.format.memory;
    const kept = laneCount * pastFrames;
    kernels.copyFloats(x + 4 * laneCount * (frames - pastFrames), this.past.pointer, kept);
    kernels.copyFloats(this.now.pointer, this.before.pointer, laneCount);
  }
  /** The filters on the way up, and the curve, as if they had never slept. */
  private wake(): void {
    const { kernels } = this.format.memory;
    const { params, state } = this.rows;
    this.asleep = false;
    this.up.values.fill(0);
    state.values.fill(0);
    kernels.upFour(this.up.pointer, this.taps.pointer, this.past.pointer, this.fast, pastFrames);
    const last = this.fast + 4 * laneCount * (4 * pastFrames - 2);
    kernels.clip(params.pointer, state.pointer, last, 2);
  }
  reductionDb(owner: number): number {
    if (this.asleep) return 0;
    const { first, width } = this.format.owners[owner]!;
    let most = 0;
    for (let lane = first; lane < first + width; lane++)
      most = Math.max(most, this.rows.state.values[laneCount * layout.MOST + lane]!);
    return reductionOf(most, this.designs[owner]!.curve);
  }
}
