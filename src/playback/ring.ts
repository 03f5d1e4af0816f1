import { blockFrames } from "../core/engine/engine";

/** Blocks the ring holds: 2.7 s at 48 kHz, which outlasts a slow answer of the server. */
export const ringBlocks = 1024;

const WRITTEN = 0;
const READ = 1;

/** What both ends of a ring share. */
export interface RingMemory {
  readonly control: SharedArrayBuffer;
  readonly audio: SharedArrayBuffer;
  readonly channels: number;
}

/** Shared memory for `channels` channels, mics one after another. */
export const allocateRing = (channels: number): RingMemory => ({
  control: new SharedArrayBuffer(4 * (2 + 2 * ringBlocks)),
  audio: new SharedArrayBuffer(4 * ringBlocks * channels * blockFrames),
  channels,
});

/**
 * Blocks of audio on their way from the streaming worker (the only writer) to the worklet (the only reader), without
 * locks. Every block carries its position in the song and the generation of its stream: a jump of the playhead starts
 * a new generation, and the reader throws away what belongs to older ones.
 */
export class Ring {
  private readonly counts: Int32Array;
  private readonly positions: Int32Array;
  private readonly generations: Int32Array;
  private readonly views: Float32Array[][];

  constructor({ control, audio, channels }: RingMemory) {
    this.counts = new Int32Array(control, 0, 2);
    this.positions = new Int32Array(control, 8, ringBlocks);
    this.generations = new Int32Array(control, 8 + 4 * ringBlocks, ringBlocks);
    this.views = Array.from({ length: ringBlocks }, (_, b) =>
      Array.from(
        { length: channels },
        (__, ch) => new Float32Array(audio, 4 * blockFrames * (b * channels + ch), blockFrames),
      ),
    );
  }

  get filled(): number {
    return (Atomics.load(this.counts, WRITTEN) - Atomics.load(this.counts, READ)) | 0;
  }
  get space(): number {
    return ringBlocks - this.filled;
  }

  /** Writer: the channels of the next free block; there must be space. */
  free(): readonly Float32Array[] {
    return this.views[Atomics.load(this.counts, WRITTEN) & (ringBlocks - 1)]!;
  }
  /** Writer: hands the block over. */
  push(position: number, generation: number): void {
    const at = Atomics.load(this.counts, WRITTEN);
    this.positions[at & (ringBlocks - 1)] = position;
    this.generations[at & (ringBlocks - 1)] = generation;
    Atomics.store(this.counts, WRITTEN, (at + 1) | 0);
  }

  /** Reader: throws away blocks of other generations; true when a block of this one is there. */
  ready(generation: number): boolean {
    let at = Atomics.load(this.counts, READ);
    const written = Atomics.load(this.counts, WRITTEN);
    while (at !== written && this.generations[at & (ringBlocks - 1)] !== generation) at = (at + 1) | 0;
    Atomics.store(this.counts, READ, at);
    return at !== written;
  }
  /** Reader: the block at the front, after `ready`. */
  front(): readonly Float32Array[] {
    return this.views[Atomics.load(this.counts, READ) & (ringBlocks - 1)]!;
  }
  frontPosition(): number {
    return this.positions[Atomics.load(this.counts, READ) & (ringBlocks - 1)]!;
  }
  /** Reader: gives the front block back. */
  pop(): void {
    Atomics.store(this.counts, READ, (Atomics.load(this.counts, READ) + 1) | 0);
  }
}
