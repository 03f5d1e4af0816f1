import { blockFrames } from "../core/engine/engine";
import { asRecorded, readingReach, readMic, type Reading } from "../core/engine/oneShots/readings";
import type { FromStream, StreamMessage } from "./messages";
import { Ring } from "./ring";
import { pageFrames, SongPages } from "./songPages";
import { Way } from "./way";

/** Silence that flows on behind the end of the song, s. */
const tailSeconds = 20;

/** Blocks written in one go. */
const batchBlocks = 32;
/**
 * Pages that come at once after a jump beyond what the first batch needs: 170 ms of sound, so that the next answer may
 * take as long before playback runs dry.
 */
const pagesWith = 4;
/**
 * Pages asked for ahead of the ring, by blocks written since a jump: little at first, so that the sound begins soon;
 * much when there is time, so that few questions are asked.
 */
const pagesAhead = (written: number): number =>
  written < 64 ? 6 : written < 192 ? 10 : written < 256 ? 16 : 24;

/**
 * Reads the tightened song ahead of the playhead into the ring: fetches pages, applies the edits, crosses the seams of
 * loops. A failed fetch is tried again until it works or the playhead moves; the interface is told meanwhile.
 */
export class Streamer {
  private ring: Ring | null = null;
  private pages: SongPages | null = null;
  private widths: number[] = [];
  private frames = 0;
  private way = new Way(0, null, false);
  private generation = -1;
  private readings: readonly Reading[] = [];
  private otherReadings: readonly Reading[] | null = null;
  private reach = 0;
  private running = false;
  private waiting = false;
  private ended = false;
  /** Blocks since the last jump. */
  private sampleRate = 48000;
  private written = 0;
  /** Breaks off what is being fetched for a playhead that has jumped away. */
  private jump = new AbortController();
  private readonly lead = new Float32Array(blockFrames);

  constructor(
    private readonly tell: (message: FromStream) => void,
    private readonly pause: (ms: number) => Promise<void>,
  ) {}

  receive(message: StreamMessage): void {
    if (message.type === "open") {
      this.ring = new Ring(message.ring);
      this.pages = new SongPages(message.mics, message.frames);
      this.widths = message.mics.map((m) => m.channels);
      this.frames = message.frames;
      this.sampleRate = message.sampleRate;
      return;
    }
    this.way = new Way(message.position, message.stretches, message.again);
    this.generation = message.generation;
    this.readings = message.readings;
    this.otherReadings = message.otherReadings;
    this.reach = Math.max(readingReach(message.readings), readingReach(message.otherReadings ?? []));
    this.ended = false;
    this.written = 0;
    this.jump.abort();
    this.jump = new AbortController();
    if (!this.running) void this.run();
  }

  /** Ends the streaming for good. */
  close(): void {
    this.running = false;
  }

  private async run(): Promise<void> {
    this.running = true;
    while (this.running) {
      const { ring, way } = this;
      // Beyond the end silence flows on, so that tails and latency play out.
      const over = way.position > this.frames + tailSeconds * this.sampleRate;
      if (!ring || ring.space < batchBlocks || over) {
        await this.pause(over ? 200 : 12);
        continue;
      }
      const { generation } = this;
      const from = way.position;
      const blocks = way.blocksAhead(batchBlocks);
      if (
        !(await this.load(from, from + blocks * blockFrames, way.leadOf(from + (blocks - 1) * blockFrames)))
      )
        continue;
      if (generation !== this.generation) continue; // the playhead jumped meanwhile
      for (let b = 0; b < blocks; b++) this.write(ring, from + b * blockFrames);
      way.advance(blocks);
      this.written += blocks;
      if (way.over && !this.ended) {
        this.ended = true;
        this.tell({ type: "ending", generation, frame: way.position });
      }
    }
  }

  /** Makes a batch and what its last block fades over to ready; false when that failed or the playhead jumped. */
  private async load(from: number, to: number, lead: number | null): Promise<boolean> {
    const pages = this.pages!;
    const { signal } = this.jump;
    const { written } = this;
    try {
      const enough = to + this.reach + (written === 0 ? pagesWith * pageFrames : 0);
      await pages.load(from - this.reach, enough, signal);
      if (lead !== null) await pages.load(lead - this.reach, lead + blockFrames + this.reach, signal);
      // Goes on while this batch is written; what fails here is asked for again when it is needed.
      else pages.load(enough, enough + pagesAhead(written) * pageFrames, signal).catch(() => {});
      if (this.waiting) this.tell({ type: "flowing" });
      this.waiting = false;
      return true;
    } catch (error) {
      if (signal.aborted) return false;
      this.waiting = true;
      this.tell({ type: "waiting", message: error instanceof Error ? error.message : String(error) });
      await this.pause(500);
      return false;
    }
  }

  private write(ring: Ring, position: number): void {
    const lead = this.way.leadOf(position);
    this.fill(ring.free(), this.readings, position, lead);
    if (this.otherReadings) this.fill(ring.freeOther(), this.otherReadings, position, lead);
    ring.push(position, this.generation, this.otherReadings !== null);
  }

  private fill(
    block: readonly Float32Array[],
    readings: readonly Reading[],
    position: number,
    lead: number | null,
  ): void {
    const pages = this.pages!;
    const silent = this.way.over;
    let at = 0;
    for (let m = 0; m < this.widths.length; m++)
      for (let ch = 0; ch < this.widths[m]!; ch++) {
        const out = block[at++]!;
        if (silent) {
          out.fill(0);
          continue;
        }
        const read = (f: number, n: number, y: Float32Array, to: number) => pages.read(m, ch, f, n, y, to);
        readMic(readings[m] ?? asRecorded, read, position, blockFrames, out);
        if (lead === null) continue;
        // At a seam the last block fades over to what leads to the other side, so that nothing clicks.
        readMic(readings[m] ?? asRecorded, read, lead, blockFrames, this.lead);
        for (let i = 0; i < blockFrames; i++) {
          const share = (i + 0.5) / blockFrames;
          out[i] = (1 - share) * out[i]! + share * this.lead[i]!;
        }
      }
  }
}
