import { putRow, type LaneOwner } from "./laneOwner";
import { instantiateKernels, type Kernels } from "../kernels/kernels";

/** Channels that run side by side. */
export const laneCount = 4;
/** Frames of one call of a kernel. */
export const laneFrames = 128;

/** Rows of four doubles, one a lane: parameters and states of the kernels. */
export interface Rows {
  readonly pointer: number;
  readonly values: Float64Array;
}

/** Bytes a chain of one group may need at most; most of it are the rings of its delays. */
const bytesOfGroup = 1 << 20;

/**
 * Memory of one engine, shared with its kernels. Everything is taken when chains are made; nothing is given back and
 * the memory never grows, so that views stay valid.
 * Errors  RangeError when it is used up.
 */
export class LaneMemory {
  readonly kernels: Kernels;
  private readonly buffer: ArrayBuffer;
  private next = 4096; // below lies what the compiler may have put
  /** For calls that need a place for themselves. */
  readonly scratch: number;

  private constructor(instance: { kernels: Kernels; buffer: ArrayBuffer }) {
    this.kernels = instance.kernels;
    this.buffer = instance.buffer;
    this.scratch = this.take(Math.max(this.kernels.saturationScratch.value, 16 * laneFrames));
  }

  /** Memory for a number of groups of four lanes. Untouched pages cost nothing. Errors  as instantiateKernels. */
  static for(groups: number): LaneMemory {
    return new LaneMemory(instantiateKernels((1 + groups) * bytesOfGroup));
  }

  /** A zeroed place, aligned to 16 bytes. */
  take(bytes: number): number {
    const pointer = this.next;
    this.next += (bytes + 15) & ~15;
    if (this.next > this.buffer.byteLength)
      throw new RangeError(`the engine's memory of ${this.buffer.byteLength} bytes is used up`);
    return pointer;
  }
  /** A block of frames of four lanes. */
  lanes(frames = laneFrames): number {
    return this.take(16 * frames);
  }
  rows(count: number): Rows {
    const pointer = this.take(32 * count);
    return { pointer, values: new Float64Array(this.buffer, pointer, laneCount * count) };
  }
  /** Planar or interleaved floats. */
  floats(count: number): { pointer: number; values: Float32Array } {
    const pointer = this.take(4 * count);
    return { pointer, values: new Float32Array(this.buffer, pointer, count) };
  }
  words(count: number): { pointer: number; values: Int32Array } {
    const pointer = this.take(4 * count);
    return { pointer, values: new Int32Array(this.buffer, pointer, count) };
  }
}

/** Two planar channels of one block, one after the other. */
export interface StereoPlace {
  readonly pointer: number;
  readonly channels: readonly [Float32Array, Float32Array];
}

/** A stereo block in the engine's memory. */
export function stereoPlace(memory: LaneMemory): StereoPlace {
  const { pointer, values } = memory.floats(2 * laneFrames);
  return { pointer, channels: [values.subarray(0, laneFrames), values.subarray(laneFrames)] };
}

/** Zeroes one lane of rows or of interleaved frames. */
export function clearLane(values: Float64Array | Float32Array | Int32Array, lane: number): void {
  for (let i = lane; i < values.length; i += laneCount) values[i] = 0;
}

/** Delay by whole frames over four lanes. */
export class LaneHold {
  private readonly ring: { pointer: number; values: Float32Array };
  private at = 0;
  constructor(
    private readonly kernels: Kernels,
    memory: LaneMemory,
    readonly frames: number,
  ) {
    this.ring = memory.floats(laneCount * Math.max(1, frames));
  }
  process(x: number, y: number, frames: number): void {
    this.at = this.kernels.hold(this.ring.pointer, this.frames, this.at, x, y, frames);
  }
  /** Takes over what lies in the lanes of another owner, of a line of the same length. */
  adopt(lanes: LaneOwner, from: LaneHold, others: LaneOwner): void {
    if (from.frames !== this.frames || this.frames === 0) return;
    copyTurned(this.ring.values, this.at, lanes, from.ring.values, from.at, others);
  }
  reset(): void {
    this.ring.values.fill(0);
    this.at = 0;
  }
}

/** Delay over four lanes in place, by as many whole frames as is set for each owner, up to the most. */
export class LaneWait {
  private readonly ring: { pointer: number; values: Float32Array };
  private readonly size: number;
  private readonly waits: Rows;
  private at = 0;
  constructor(memory: LaneMemory, most: number) {
    this.size = 2 ** Math.ceil(Math.log2(Math.max(most + 1, laneFrames)));
    this.ring = memory.floats(laneCount * this.size);
    this.waits = memory.rows(1);
  }
  set(lanes: LaneOwner, frames: number): void {
    putRow(this.waits.values, 0, lanes, frames);
  }
  reset({ first, width }: LaneOwner): void {
    for (let lane = first; lane < first + width; lane++) clearLane(this.ring.values, lane);
  }
  process(x: number, frames: number, kernels: Kernels): void {
    this.at = kernels.wait(this.ring.pointer, this.size, this.at, this.waits.pointer, x, frames);
  }
  /** Remembers a block, so that `process` may go on from it; a block divides the ring. */
  record(x: number, frames: number, kernels: Kernels): void {
    kernels.copyFloats(x, this.ring.pointer + 4 * laneCount * this.at, laneCount * frames);
    this.at = (this.at + frames) & (this.size - 1);
  }
  /** Takes over what lies in the lanes of another owner. */
  adopt(lanes: LaneOwner, from: LaneWait, others: LaneOwner): void {
    if (from.size === this.size)
      copyTurned(this.ring.values, this.at, lanes, from.ring.values, from.at, others);
  }
}

/** Copies lanes of one ring into those of another of the same length, each from where it is written on. */
export function copyTurned<Ring extends Float32Array | Int32Array>(
  to: Ring,
  toAt: number,
  lanes: LaneOwner,
  from: Ring,
  fromAt: number,
  others: LaneOwner,
): void {
  const size = to.length / laneCount;
  for (let k = 0; k < size; k++)
    for (let lane = 0; lane < Math.min(lanes.width, others.width); lane++)
      to[laneCount * ((toAt + k) % size) + lanes.first + lane] =
        from[laneCount * ((fromAt + k) % size) + others.first + lane]!;
}
