import type { PanPlace } from "../signal/pan";
import { laneFrames } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { processorType } from "../processors";
import { DelayLine } from "../signal/delayLine";
import type { Mic } from "../song/song";
import { widthAfterChain } from "./laneChain";
import { handlesOf, takeChain, type Lanes } from "./lanes";
import type { MicTap } from "./micTaps";
import type { PositionLine } from "./positionLine";
import type { SectionMap } from "./sectionValues";
import { SlotHandle } from "./slotHandle";

/** Left and right at one tap of a mic, and what holds them back. */
interface Outlet {
  readonly channels: readonly Float32Array[];
  readonly tap: number;
  lines: DelayLine[];
}

/** One mic in the lanes of a chain: its pan behind it, and what it gives at every tap, all equally late. */
export class MicNode {
  readonly outlets: readonly Outlet[];
  /** By tap: left and right. */
  readonly outputs: readonly Planar[];
  /** What the chain gives before its pan. */
  readonly channels: readonly Float32Array[];
  readonly pan: SlotHandle | null;

  constructor(
    readonly mic: Mic,
    /** Its chain without what is done before and behind the lanes. */
    inLanes: Mic["chain"],
    readonly chain: Lanes,
    readonly owner: number,
    /** Frames by which it comes in late. */
    readonly late: number,
    /** Index into the song's mics. */
    readonly index: number,
    /** Those of this mic, and those of its whole group. */
    readonly taps: readonly MicTap[],
    groupTaps: readonly MicTap[],
  ) {
    this.channels = chain.channels(owner).slice(0, widthAfterChain({ ...mic, chain: inLanes }));
    this.outlets = taps.map((name) => {
      const tap = groupTaps.indexOf(name);
      return { channels: chain.tapChannels(owner, tap), tap, lines: [] };
    });
    this.outputs = this.outlets.map((o) => o.channels);
    const last = mic.chain[mic.chain.length - 1];
    this.pan = last?.type === "pan" ? new SlotHandle(last, processorType("pan").params) : null;
    this.place();
  }
  private place(): void {
    this.chain.setPan(this.owner, this.pan ? (this.pan.glide.values as unknown as PanPlace) : null);
  }
  /** Frames by which its chain gives it late. */
  get latency(): number {
    return this.late + this.chain.latencyOf(this.owner);
  }
  /** Frames by which everything leaves it late. */
  padded = 0;
  /** Holds everything back until it is `latency` frames late. */
  padTo(latency: number): void {
    this.padded = latency;
    for (const outlet of this.outlets) {
      const late = latency - this.latency + this.chain.tapAhead(this.owner, outlet.tap);
      outlet.lines = late > 0 ? [new DelayLine(late), new DelayLine(late)] : [];
    }
  }
  handles(): SlotHandle[] {
    return [...handlesOf(this.chain, this.owner), ...(this.pan ? [this.pan] : [])];
  }
  take(mic: Mic, inLanes: Mic["chain"], sections: SectionMap): void {
    takeChain(this.chain, this.owner, inLanes, sections);
    this.pan?.take(mic.chain[mic.chain.length - 1]!, sections);
  }
  reset(position: number): void {
    for (const { lines } of this.outlets) for (const line of lines) line.reset();
    this.pan?.moveTo(position);
    if (this.pan?.glide.jump()) this.place();
  }
  /** Before the chain runs: brings the pan a block further. */
  advance(positions: PositionLine): void {
    this.pan?.moveTo(positions.at(this.latency));
    if (this.pan?.glide.step()) this.place();
  }
  /** After it: holds the mic back. */
  finish(): void {
    for (let o = 0; o < this.outlets.length; o++) {
      const { lines, channels } = this.outlets[o]!;
      for (let ch = 0; ch < lines.length; ch++) lines[ch]!.process(channels[ch]!, channels[ch]!, laneFrames);
    }
  }
  takePeak(): number {
    return this.chain.takePeak(this.owner);
  }
}
