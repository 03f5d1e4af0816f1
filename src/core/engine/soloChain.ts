import { LaneMemory } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { processorType } from "../processors";
import type { ProcessorState } from "../song/song";
import { LaneChain, widthAfterChain } from "./laneChain";
import { reductionOf, setBeats, setHits } from "./lanes";
import { PositionLine } from "./positionLine";

/** One chain on its own, block by block. Shape: one or two channels, `blockFrames` frames a call. */
export class SoloChain {
  private readonly chain: LaneChain;
  private readonly keys: readonly Float32Array[];
  private readonly positions: PositionLine;
  readonly latency: number;
  /** Output of the last block. */
  readonly output: readonly Float32Array[];

  constructor(
    states: readonly ProcessorState[],
    sampleRate: number,
    channels: number,
    { keyChannels = 0, scalar = false } = {},
  ) {
    const slots = states.flatMap((p, s) => (processorType(p.type).listens ? [s] : []));
    const options = { keys: keyChannels > 0 ? [{ channels: keyChannels, slots }] : [], scalar };
    this.chain = new LaneChain(LaneMemory.for(1), [{ chain: states, channels }], sampleRate, options);
    this.latency = this.chain.latency;
    this.positions = new PositionLine(this.latency);
    this.output = this.chain.channels(0).slice(0, widthAfterChain({ chain: states, channels }));
    this.keys = keyChannels > 0 ? this.chain.keyChannels(0, 0) : [];
  }
  setHits(hits: Float64Array): void {
    setHits(this.chain, 0, hits);
  }
  setBeats(beats: Float64Array): void {
    setBeats(this.chain, 0, beats);
  }
  /** Gain reduction of a processor of the chain in the last block, dB. */
  reductionDb(slot: number): number {
    return reductionOf(this.chain, 0, slot);
  }
  /** `position` is the song frame of the first input frame. The key has as many channels as was said. */
  process(input: Planar, position: number, key: Planar | null = null): void {
    this.chain.feed(0, input);
    if (key) this.keys.forEach((k, ch) => k.set(key[Math.min(ch, key.length - 1)]!));
    this.positions.put(position);
    this.chain.process(this.positions, 0);
  }
}
