import { laneFrames, LaneMemory } from "../lanes/laneMemory";
import type { Mic, Song } from "../song/song";
import { finished } from "./engine";
import { kitLatency } from "./cancelStage";
import { widthAfterChain } from "./laneChain";
import { inLanes, MicBank, micLatency } from "./micBank";
import { tapsNeeded } from "./micTaps";
import { PositionLine } from "./positionLine";

/** Blocks that are rendered at a time: 0.7 s at 48 kHz. */
export const windowBlocks = 256;
export const windowFrames = windowBlocks * laneFrames;

/** Channels of a mic as its chain leaves it, before the pan. */
export const stemChannels = (mic: Mic): number => widthAfterChain({ ...mic, chain: inLanes(mic.chain) });

/** Bytes of shared memory that a window of a song needs. */
export function windowBytes(song: Song): number {
  const taps = tapsNeeded(song);
  return (
    song.mics.reduce((n, m, i) => n + m.channels + stemChannels(m) + 2 * taps[i]!.length, 0) *
    4 *
    windowFrames
  );
}

/** A stretch of a song while it is rendered: what goes into every mic's chain and what comes out. */
export class RenderWindow {
  /** [mic][channel]: in, as late as the stage before the chains makes it; before the pan. */
  readonly inputs: Float32Array[][] = [];
  readonly stems: Float32Array[][] = [];
  /** [mic][tap][channel]. */
  readonly outputs: Float32Array[][][] = [];

  /** Lies in `memory`, so that threads can share it. Shape: `windowBytes` bytes. */
  constructor(song: Song, memory: ArrayBufferLike) {
    let at = 0;
    const channel = () => {
      const x = new Float32Array(memory, at, windowFrames);
      at += 4 * windowFrames;
      return x;
    };
    const channels = (count: number) => Array.from({ length: count }, channel);
    const taps = tapsNeeded(song);
    song.mics.forEach((mic, m) => {
      this.inputs.push(channels(mic.channels));
      this.outputs.push(taps[m]!.map(() => channels(2)));
      this.stems.push(channels(stemChannels(mic)));
    });
  }
}

/** Runs some mics of a song over windows. */
export class WindowBank {
  private readonly bank: MicBank;
  private readonly places: readonly number[];
  private readonly positions: PositionLine;

  constructor(song: Song, groups: readonly number[][]) {
    this.bank = finished(MicBank.build(song, groups, LaneMemory.for(groups.flat().length), kitLatency(song)));
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
        const { outputs, channels } = nodes[i]!;
        window.outputs[m]!.forEach((tap, t) => tap.forEach((y, ch) => y.set(outputs[t]![ch]!, at)));
        window.stems[m]!.forEach((y, ch) => y.set(channels[ch]!, at));
      });
    }
  }
}
