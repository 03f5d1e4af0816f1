import { blockFrames } from "../core/engine/engine";

/** Blocks the ring holds: 2.7 s at 48 kHz, which outlasts a slow answer of the server. */
export const ringBlocks = 1024;

const WRITTEN = 0;
const READ = 1;

/** What both ends of a ring share. */
export interface RingMemory {
  readonly control: SharedArrayBuffer;
  readonly audio: SharedArrayBuffer;
  /** Channels of all mics together; the ring has room for as many again, for another timing. */
  readonly channels: number;
}

/** Shared memory for `channels` channels, mics one after another, twice. */
export const allocateRing = (channels: number): RingMemory => ({
  control: new SharedArrayBuffer(4 * (2 + 3 * ringBlocks)),
  audio: new SharedArrayBuffer(4 * ringBlocks * 2 * channels * blockFrames),
  channels,
});

/**
 * Blocks of audio on their way from the streaming worker (the only writer) to the worklet (the only reader), without
 * locks. Every block carries its position in the song and the generation of its stream: a jump of the playhead starts
 * a new generation, and the reader throws away what belongs to older ones. Where the other side of a comparison has
 * another timing, a block also carries the channels as that side hears them.
 */
export class Ring {
  private readonly counts: Int32Array;
  private readonly positions: Int32Array;
  private readonly generations: Int32Array;
  private readonly doubles: Int32Array;
  private readonly views: Float32Array[][];
  private readonly others: Float32Array[][];

  constructor({ control, audio, channels }: RingMemory) {
    this.counts = new Int32Array(control, 0, 2);
    const words = (n: number) => new Int32Array(control, 8 + 4 * n * ringBlocks, ringBlocks);
    this.positions = words(0);
    this.generations = words(1);
    this.doubles = words(2);
    const views = (half: number) =>
      Array.from({ length: ringBlocks }, (_, b) =>
        Array.from({ length: channels }, (__, ch) => {
          const channel = (2 * b + half) * channels + ch;
          return new Float32Array(audio, 4 * blockFrames * channel, blockFrames);
        }),
      );
    this.views = views(0);
    this.others = views(1);
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
  /** Writer: the channels of the next free block as the other side hears them. */
  freeOther(): readonly Float32Array[] {
    return this.others[Atomics.load(this.counts, WRITTEN) & (ringBlocks - 1)]!;
  }
  /** Writer: hands the block over; `double` when the other side's channels were written too. */
  push(position: number, generation: number, double = false): void {
    const at = Atomics.load(this.counts, WRITTEN);
    const slot = at & (ringBlocks - 1);
    this.positions[slot] = position;
    this.generations[slot] = generation;
    this.doubles[slot] = double ? 1 : 0;
    Atomics.store(this.counts, WRITTEN, (at + 1) | 0);
  }

  /**
   * Reader: throws away blocks of older generations; true when a block of this one is there. Blocks of a newer one stay:
   * the writer may know of a jump before the reader does.
   */
  ready(generation: number): boolean {
    let at = Atomics.load(this.counts, READ);
    const written = Atomics.load(this.counts, WRITTEN);
    const ahead = () => this.generations[at & (ringBlocks - 1)]! - generation;
    while (at !== written && ahead() < 0) at = (at + 1) | 0;
    Atomics.store(this.counts, READ, at);
    return at !== written && ahead() === 0;
  }
  private get slot(): number {
    return Atomics.load(this.counts, READ) & (ringBlocks - 1);
  }
  /** Reader: the block at the front, after `ready`. */
  front(): readonly Float32Array[] {
    return this.views[this.slot]!;
  }
  /** Reader: the front block as the other side hears it. */
  frontOther(): readonly Float32Array[] {
    return (this.doubles[this.slot] === 1 ? this.others : this.views)[this.slot]!;
  }
  frontPosition(): number {
    return this.positions[this.slot]!;
  }
  /** Reader: gives the front block back. */
  pop(): void {
    Atomics.store(this.counts, READ, (Atomics.load(this.counts, READ) + 1) | 0);
  }
}
