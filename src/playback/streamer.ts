import { blockFrames } from "../core/engine/engine";
import { readEdited } from "../core/engine/timeline";
import type { Edit } from "../core/song/song";
import { AudioPages } from "./audioPages";
import type { FromStream, Loop, StreamMessage } from "./messages";
import { Ring } from "./ring";

/** Blocks written in one go. */
const batchBlocks = 32;
/** Frames around a batch that edits may reach for beyond their largest shift. */
const margin = 1024;

/**
 * Reads the tightened song ahead of the playhead into the ring: fetches pages, applies the edits, jumps at the end of
 * the loop. A failed fetch is tried again until it works or the playhead moves; the interface is told meanwhile.
 */
export class Streamer {
  private ring: Ring | null = null;
  private mics: AudioPages[] = [];
  private widths: number[] = [];
  private frames = 0;
  private position = 0;
  private generation = -1;
  private loop: Loop | null = null;
  private edits: readonly Edit[] = [];
  private running = false;
  private waiting = false;

  constructor(
    private readonly tell: (message: FromStream) => void,
    private readonly pause: (ms: number) => Promise<void>,
  ) {}

  receive(message: StreamMessage): void {
    if (message.type === "open") {
      this.ring = new Ring(message.ring);
      this.mics = message.mics.map((m) => new AudioPages(m.audio, m.channels));
      this.widths = message.mics.map((m) => m.channels);
      this.frames = message.frames;
      return;
    }
    this.position = message.position;
    this.generation = message.generation;
    this.edits = message.edits;
    // A loop is a whole number of blocks long, so that a block never spans its end.
    const blocks = message.loop
      ? Math.max(1, Math.round((message.loop.to - message.loop.from) / blockFrames))
      : 0;
    this.loop = message.loop && { from: message.loop.from, to: message.loop.from + blocks * blockFrames };
    if (this.loop && this.position < this.loop.to)
      this.position = this.loop.to - Math.ceil((this.loop.to - this.position) / blockFrames) * blockFrames;
    if (!this.running) void this.run();
  }

  /** Ends the streaming for good. */
  close(): void {
    this.running = false;
  }

  private async run(): Promise<void> {
    this.running = true;
    while (this.running) {
      const ring = this.ring;
      // Beyond the end silence flows on, so that tails and latency play out.
      const over = this.position > this.frames + 20 * 48000;
      if (!ring || ring.space < batchBlocks || over) {
        await this.pause(over ? 200 : 12);
        continue;
      }
      const { generation } = this;
      const from = this.position;
      let blocks = batchBlocks;
      if (this.loop && from < this.loop.to) blocks = Math.min(blocks, (this.loop.to - from) / blockFrames);
      try {
        await this.load(from, from + blocks * blockFrames);
        if (this.waiting) this.tell({ type: "flowing" });
        this.waiting = false;
      } catch (error) {
        this.waiting = true;
        this.tell({ type: "waiting", message: error instanceof Error ? error.message : String(error) });
        await this.pause(500);
        continue;
      }
      if (generation !== this.generation) continue; // the playhead jumped meanwhile
      for (let b = 0; b < blocks; b++) this.write(ring, from + b * blockFrames);
      this.position = from + blocks * blockFrames;
      if (this.loop && this.position === this.loop.to) this.position = this.loop.from;
    }
  }

  private async load(from: number, to: number): Promise<void> {
    const shift = this.edits.reduce((most, e) => Math.max(most, Math.abs(e.shift)), 0) + margin;
    await Promise.all(this.mics.map((m) => m.load(from - shift, to + shift)));
  }

  private write(ring: Ring, position: number): void {
    const block = ring.free();
    let at = 0;
    this.mics.forEach((mic, i) => {
      for (let ch = 0; ch < this.widths[i]!; ch++)
        readEdited(
          this.edits,
          (f, n, out, to) => mic.read(ch, f, n, out, to),
          position,
          blockFrames,
          block[at++]!,
        );
    });
    ring.push(position, this.generation);
  }
}
