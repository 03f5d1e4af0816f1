import type { LaneOwner } from "./laneProcessor";
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
    const { frames } = this;
    if (from.frames !== frames) return;
    const width = Math.min(lanes.width, others.width);
    for (let k = 0; k < frames; k++)
      for (let lane = 0; lane < width; lane++)
        this.ring.values[laneCount * ((this.at + k) % frames) + lanes.first + lane] =
          from.ring.values[laneCount * ((from.at + k) % frames) + others.first + lane]!;
  }
  reset(): void {
    this.ring.values.fill(0);
    this.at = 0;
  }
}
