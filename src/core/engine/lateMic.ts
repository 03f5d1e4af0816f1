import { laneFrames, stereoPlace, type LaneMemory, type StereoPlace } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { DelayLine } from "../signal/delayLine";
import { keysOf } from "../song/graph";
import type { Mic, Song } from "../song/song";
import { inLanes, micLanes } from "./micBank";
import { hitsOf } from "./strokesOf";
import { setBeats, setHits } from "./lanes";
import { MicNode } from "./micNode";
import type { MicTap } from "./micTaps";
import { Strip, type Feed } from "./mixNodes";
import type { PositionLine } from "./positionLine";
import type { SectionMap } from "./sectionValues";

/** A key from another mic, heard as it comes in. */
interface MicKey {
  readonly mic: number;
  readonly line: DelayLine;
  readonly held: Float32Array;
}

/**
 * A mic whose detector listens to a bus: it waits for that bus, so that both are in time, and runs within the mix.
 */
export class LateMic {
  readonly node: MicNode;
  readonly strip: Strip;
  readonly places: readonly StereoPlace[];
  readonly faded: StereoPlace;
  private readonly lines: readonly DelayLine[];
  private readonly held: readonly Float32Array[];
  private readonly keys: readonly (Feed | MicKey)[];

  /** `busKeys`: by bus id, in time with `arrival`; `stageLate`: frames by which mics come in late. */
  constructor(
    song: Song,
    readonly mic: Mic,
    private readonly memory: LaneMemory,
    taps: readonly (readonly MicTap[])[],
    readonly arrival: number,
    stageLate: number,
    busKeys: ReadonlyMap<string, Feed>,
  ) {
    const index = song.mics.indexOf(mic);
    const { chain, groupTaps } = micLanes(song, [index], memory, taps);
    this.node = new MicNode(mic, inLanes(mic.chain), chain, 0, arrival, index, taps[index]!, groupTaps);
    this.node.padTo(this.node.latency);
    this.strip = new Strip(mic);
    this.places = this.node.outputs.map(() => stereoPlace(memory));
    this.faded = stereoPlace(memory);
    const wait = arrival - stageLate;
    this.lines = Array.from({ length: mic.channels }, () => new DelayLine(wait));
    this.held = this.lines.map(() => new Float32Array(laneFrames));
    this.keys = keysOf(mic).map(
      (id) =>
        busKeys.get(id) ?? {
          mic: song.mics.findIndex((m) => m.id === id),
          line: new DelayLine(wait),
          held: new Float32Array(laneFrames),
        },
    );
  }
  get late(): number {
    return this.node.latency;
  }
  place(tap: MicTap): StereoPlace {
    return this.places[this.node.taps.indexOf(tap)]!;
  }
  /** strokesMoved: whether its strokes must be told again; beats: the song's, where they are others. */
  take(song: Song, mic: Mic, sections: SectionMap, strokesMoved: boolean, beats: Float64Array | null): void {
    this.node.take(mic, inLanes(mic.chain), sections);
    if (beats) setBeats(this.node.chain, 0, beats);
    if (strokesMoved) setHits(this.node.chain, 0, hitsOf(song, mic));
  }
  reset(position: number): void {
    this.node.chain.reset(position);
    this.node.reset(position);
    for (const line of this.lines) line.reset();
    for (const key of this.keys) ("line" in key ? key.line : key).reset();
  }
  /** Inputs of all mics of the song. */
  process(inputs: readonly Planar[], positions: PositionLine): void {
    const { node, memory } = this;
    const input = inputs[node.index]!;
    for (let ch = 0; ch < this.lines.length; ch++)
      this.lines[ch]!.process(input[ch]!, this.held[ch]!, laneFrames);
    node.chain.feed(0, this.held);
    for (let k = 0; k < this.keys.length; k++) {
      const key = this.keys[k]!;
      const into = node.chain.keyChannels(0, k);
      if ("line" in key) {
        key.line.process(inputs[key.mic]![0]!, key.held, laneFrames);
        for (const x of into) x.set(key.held);
      } else {
        const { channels } = key.take();
        into.forEach((x, ch) => x.set(channels[ch]!));
      }
    }
    node.advance(positions);
    node.chain.process(positions, this.arrival);
    node.finish();
    for (let t = 0; t < this.places.length; t++)
      for (let ch = 0; ch < 2; ch++) this.places[t]!.channels[ch]!.set(node.outputs[t]![ch]!);
    for (const y of this.faded.channels) y.fill(0);
    this.strip.level.fader.addPlace(memory, this.places[0]!.pointer, this.faded.pointer);
  }
}
