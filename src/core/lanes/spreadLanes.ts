import { designPan, type PanPlace } from "../signal/pan";
import { laneCount, laneFrames, type LaneMemory, type Rows } from "./laneMemory";
import type { LaneOwner } from "./laneOwner";

/** The last of a mic's chain: every owner's lanes to left and right, and the peak of what comes out. */
export class SpreadLanes {
  private readonly memory: LaneMemory;
  private readonly gains: Rows; // left now, its step; right now, its step
  private readonly out: { pointer: number; values: Float32Array };
  private readonly peaks: { pointer: number; values: Float32Array };
  /** Wanted gains per owner; the blocks in between glide. */
  private readonly wanted: [left: number, right: number][];
  private fresh = true;

  constructor(
    memory: LaneMemory,
    private readonly owners: readonly LaneOwner[],
    private readonly mono: readonly boolean[],
  ) {
    this.memory = memory;
    this.gains = memory.rows(4);
    this.out = memory.floats(2 * laneCount * laneFrames);
    this.peaks = memory.floats(4 * laneCount);
    this.wanted = owners.map(() => [1, 1]);
  }
  /** Null: no pan, the channels as they are. */
  set(owner: number, place: PanPlace | null): void {
    this.wanted[owner] = place === null ? [1, 1] : designPan(place, this.mono[owner]!);
  }
  /** Goes to the wanted places at once. */
  reset(): void {
    this.fresh = true;
  }
  /** Left and right of an owner. */
  channels(owner: number): [Float32Array, Float32Array] {
    const { first } = this.owners[owner]!;
    const last = this.mono[owner] ? first : first + 1;
    const channel = (n: number) => this.out.values.subarray(n * laneFrames, (n + 1) * laneFrames);
    return [channel(2 * first), channel(2 * last + 1)];
  }
  /** Largest sample of an owner since the last call, linear. */
  takePeak(owner: number): number {
    const { first } = this.owners[owner]!;
    const last = this.mono[owner] ? first : first + 1;
    const { values } = this.peaks;
    let peak = 0;
    for (let i = 4 * first; i < 4 * last + 4; i++) {
      peak = Math.max(peak, values[i]!);
      values[i] = 0;
    }
    return peak;
  }
  process(x: number): void {
    const { values } = this.gains;
    for (let o = 0; o < this.owners.length; o++) {
      const { first } = this.owners[o]!;
      const [left, right] = this.wanted[o]!;
      const last = this.mono[o] ? first : first + 1;
      this.aim(values, 0, first, left);
      this.aim(values, 8, last, right);
    }
    this.memory.kernels.spread(x, this.gains.pointer, this.out.pointer, this.peaks.pointer, laneFrames);
    for (let lane = 0; lane < laneCount; lane++) {
      values[lane]! += laneFrames * values[4 + lane]!;
      values[8 + lane]! += laneFrames * values[12 + lane]!;
    }
    this.fresh = false;
  }
  private aim(values: Float64Array, row: number, lane: number, wanted: number): void {
    const at = row + lane;
    const step = (wanted - values[at]!) / laneFrames;
    // What is left of a glide is rounding: the gain is then exactly the wanted one.
    const there = this.fresh || Math.abs(step) < 1e-9;
    if (there) values[at] = wanted;
    values[at + 4] = there ? 0 : step;
  }
}
