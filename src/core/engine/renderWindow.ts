import { laneFrames, LaneMemory } from "../lanes/laneMemory";
import type { Song } from "../song/song";
import { finished } from "./engine";
import { kitLatency } from "./cancelStage";
import { groupMics, MicBank, micLatency } from "./micBank";
import { PositionLine } from "./positionLine";

/** Blocks that are rendered at a time: 0.7 s at 48 kHz. */
export const windowBlocks = 256;
export const windowFrames = windowBlocks * laneFrames;

/** Bytes of shared memory that a window of a song needs. */
export const windowBytes = (song: Song): number =>
  4 * windowFrames * song.mics.reduce((n, m) => n + 2 * m.channels + 2, 0);

/** A stretch of a song while it is rendered: what goes into every mic's chain and what comes out. */
export class RenderWindow {
  /** [mic][channel]: in, as late as the stage before the chains makes it; behind the pan; before it. */
  readonly inputs: Float32Array[][] = [];
  readonly panned: Float32Array[][] = [];
  readonly stems: Float32Array[][] = [];

  /** Lies in `memory`, so that threads can share it. Shape: `windowBytes` bytes. */
  constructor(song: Song, memory: ArrayBufferLike) {
    let at = 0;
    const channel = () => {
      const x = new Float32Array(memory, at, windowFrames);
      at += 4 * windowFrames;
      return x;
    };
    const channels = (count: number) => Array.from({ length: count }, channel);
    for (const { channels: count } of song.mics) {
      this.inputs.push(channels(count));
      this.panned.push(channels(2));
      this.stems.push(channels(count));
    }
  }
}

/** Runs some mics of a song over windows. */
export class WindowBank {
  private readonly bank: MicBank;
  private readonly places: readonly number[];
  private readonly positions: PositionLine;

  constructor(song: Song, groups: readonly number[][]) {
    this.bank = finished(MicBank.build(song, groups, LaneMemory.for(groups.length), kitLatency(song)));
    this.positions = new PositionLine(micLatency(song));
    this.bank.reset(0);
    const chosen = new Set(groups.flat());
    this.places = song.mics.map((_, m) => m).filter((m) => chosen.has(m));
  }
  /** `from` is the song frame of the window's first frame; windows must follow each other. */
  run(window: RenderWindow, from: number): void {
    const { nodes } = this.bank;
    for (let at = 0; at < windowFrames; at += laneFrames) {
      const cut = (x: Float32Array) => x.subarray(at, at + laneFrames);
      this.positions.put(from + at);
      this.bank.process(
        window.inputs.map((channels) => channels.map(cut)),
        this.positions,
      );
      this.places.forEach((m, i) => {
        const { panned, channels } = nodes[i]!;
        window.panned[m]!.forEach((y, ch) => y.set(panned[ch]!, at));
        window.stems[m]!.forEach((y, ch) => y.set(channels[ch]!, at));
      });
    }
  }
}

/** Runs the chains of all mics over a window, on this thread or on several. */
export interface BankRunner {
  /** Shared memory for windows, or plain memory when one thread does it all. */
  allocate(bytes: number): ArrayBufferLike;
  /** Says which windows will be used, before the first run. */
  open(windows: readonly RenderWindow[], memories: readonly ArrayBufferLike[]): void;
  run(window: number, from: number): Promise<void>;
  close(): void;
}

/** Everything on this thread. */
export function localRunner(song: Song): BankRunner {
  const bank = new WindowBank(song, groupMics(song));
  let opened: readonly RenderWindow[] = [];
  return {
    allocate: (bytes) => new ArrayBuffer(bytes),
    open: (windows) => {
      opened = windows;
    },
    run: async (window, from) => bank.run(opened[window]!, from),
    close: () => {},
  };
}
