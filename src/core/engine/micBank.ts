import { laneCount, laneFrames, type LaneMemory } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { processorType } from "../processors";
import { DelayLine } from "../signal/delayLine";
import type { Mic, ProcessorState, Song } from "../song/song";
import { cancels } from "./cancelStage";
import { LaneChain, lanesOf } from "./laneChain";
import type { PositionLine } from "./positionLine";
import { SectionMap } from "./sectionValues";
import { SlotHandle } from "./slotHandle";
import { cutsOf, cutsOfMic, cutTime, sameCuts } from "./cuts";
import { hitFrames } from "./timeline";

/** Frames by which a drum's hits reach a mic late, its own delay included. */
const hitsLate = (mic: Mic): number =>
  mic.lateBy + ((mic.chain.find((p) => p.type === "delay")?.params["delay"] as number | undefined) ?? 0);

/**
 * A chain without the cancelling that begins it, which the engine does for all mics before, and without the pan that ends
 * it, which makes two channels and runs behind the lanes.
 */
const inLanes = (chain: readonly ProcessorState[]): readonly ProcessorState[] =>
  chain.slice(cancels(chain) ? 1 : 0, chain[chain.length - 1]?.type === "pan" ? -1 : undefined);

const typesOf = (mic: Mic): string =>
  inLanes(mic.chain)
    .map((p) => p.type)
    .join(" ");

/** Index of the mic to which the detectors of another listen; -1: to itself. */
const keyOf = ({ mics }: Song, m: number): number =>
  mics[m]!.key === null ? -1 : mics.findIndex((k) => k.id === mics[m]!.key);
/** Processors that listen to the key. */
const listens = (type: string): boolean => type === "gate" || type === "dynamicEq";

/**
 * Mics that share the lanes of one vector: equal chains, at most four lanes, stereo mics first so that pairs stay
 * together. Shape: lists of indices into the song's mics.
 */
export function groupMics(song: Song): number[][] {
  const lanes = (m: number) => lanesOf({ ...song.mics[m]!, chain: inLanes(song.mics[m]!.chain) });
  const order = song.mics.map((_, m) => m).sort((a, b) => lanes(b) - lanes(a) || a - b);
  const groups: { types: string; alone: boolean; used: number; mics: number[] }[] = [];
  for (const m of order) {
    const types = typesOf(song.mics[m]!);
    // A mic with a key runs alone: its detectors hear what those beside it do not.
    const alone = keyOf(song, m) >= 0;
    const fits = alone
      ? undefined
      : groups.find((g) => !g.alone && g.types === types && g.used + lanes(m) <= laneCount);
    const group = fits ?? { types, alone, used: 0, mics: [] };
    if (!fits) groups.push(group);
    group.mics.push(m);
    group.used += lanes(m);
  }
  return groups.map((g) => g.mics);
}

class MicNode {
  /** Left and right behind the pan, as late as those of the slowest mic. */
  readonly panned: readonly Float32Array[];
  /** What the chain gives before its pan. */
  readonly channels: readonly Float32Array[];
  readonly pan: SlotHandle | null;
  private lines: DelayLine[] = [];

  constructor(
    readonly mic: Mic,
    readonly chain: LaneChain,
    readonly owner: number,
    /** Frames by which it comes in late. */
    private readonly late: number,
    /** Indices into the song's mics: its own, and that of its key or -1. */
    readonly index: number,
    readonly key: number,
  ) {
    this.channels = chain.channels(owner).slice(0, mic.channels);
    this.panned = chain.spread!.channels(owner);
    const last = mic.chain[mic.chain.length - 1];
    this.pan = last?.type === "pan" ? new SlotHandle(last, processorType("pan").params) : null;
    this.place();
  }
  private place(): void {
    this.chain.spread!.set(this.owner, this.pan ? (this.pan.glide.values["position"] as number) : null);
  }
  padTo(latency: number): void {
    const late = latency - this.late - this.chain.latency;
    this.lines = late > 0 ? [new DelayLine(late), new DelayLine(late)] : [];
  }
  handles(): SlotHandle[] {
    return [...this.chain.handles(this.owner), ...(this.pan ? [this.pan] : [])];
  }
  reset(position: number): void {
    for (const line of this.lines) line.reset();
    this.pan?.moveTo(position);
    if (this.pan?.glide.jump()) this.place();
  }
  /** Before the chain runs: brings the pan a block further. */
  advance(positions: PositionLine): void {
    this.pan?.moveTo(positions.at(this.late + this.chain.latency));
    if (this.pan?.glide.step()) this.place();
  }
  /** After it: holds the mic back until the slowest is there. */
  finish(): void {
    for (let ch = 0; ch < this.lines.length; ch++)
      this.lines[ch]!.process(this.panned[ch]!, this.panned[ch]!, laneFrames);
  }
  takePeak(): number {
    return this.chain.spread!.takePeak(this.owner);
  }
}

/**
 * The chains of some or all mics of a song, each up to its pan, brought to one latency. Of other mics they hear at most
 * what goes into their chains, as a key, so that a song's mics can be spread over threads without changing a sample.
 */
export class MicBank {
  readonly nodes: readonly MicNode[];
  private heard: Song | null = null;
  /** Chains that rest, because all their mics are taken from another bank. */
  private readonly rests: boolean[];

  private constructor(
    song: Song,
    private readonly chains: readonly LaneChain[],
    nodes: MicNode[],
    private readonly late: number,
  ) {
    this.rests = chains.map(() => false);
    const order = new Map(song.mics.map((m, i) => [m.id, i]));
    this.nodes = nodes.sort((a, b) => order.get(a.mic.id)! - order.get(b.mic.id)!);
    const latency = micLatency(song);
    for (const node of this.nodes) node.padTo(latency);
    this.update(song, new SectionMap(song.sections, song.sampleRate));
  }

  /** Makes a bank group by group. `groups` as `groupMics` gives them, or some of them; mics come in `late` frames late. */
  static *build(
    song: Song,
    groups: readonly number[][],
    memory: LaneMemory,
    late: number,
  ): Generator<void, MicBank> {
    const chains: LaneChain[] = [];
    const nodes: MicNode[] = [];
    for (const group of groups) {
      const owners = group.map((m) => ({ ...song.mics[m]!, chain: inLanes(song.mics[m]!.chain) }));
      const key = keyOf(song, group[0]!);
      const keyChannels = key < 0 ? 0 : 1;
      const chain = new LaneChain(memory, owners, song.sampleRate, {
        pans: true,
        keyChannels,
        keyed: listens,
      });
      chains.push(chain);
      group.forEach((m, owner) => nodes.push(new MicNode(song.mics[m]!, chain, owner, late, m, key)));
      yield;
    }
    return new MicBank(song, chains, nodes, late);
  }

  /** Takes values, switches and hits of a song with the same mics and chains. */
  update(song: Song, sections: SectionMap): void {
    const old = this.heard;
    const before = old && new Map(old.mics.map((m) => [m.id, m]));
    const sameTime = old?.hits === song.hits && sameCuts(cutsOf(old), cutsOf(song));
    const mics = new Map(song.mics.map((m) => [m.id, m]));
    for (const node of this.nodes) {
      const mic = mics.get(node.mic.id)!;
      const last = before?.get(mic.id);
      node.chain.take(node.owner, inLanes(mic.chain), sections);
      if (node.pan) node.pan.take(mic.chain[mic.chain.length - 1]!, sections);
      if (sameTime && last?.piece === mic.piece && hitsLate(last) === hitsLate(mic)) continue;
      const cuts = cutsOfMic(song, mic);
      const heardAt = (t: number) => cutTime(cuts, t, song.sampleRate);
      const hits = hitFrames(song.hits, mic.piece, heardAt, song.sampleRate, hitsLate(mic));
      node.chain.setHits(node.owner, hits);
    }
    this.heard = song;
  }

  reset(position: number): void {
    for (const chain of this.chains) chain.reset(position);
    for (const node of this.nodes) node.reset(position);
  }

  /**
   * Lets chains rest whose mics are all `same` as in another bank. True when one that rested runs again: it begins
   * with silence.
   */
  rest(same: readonly boolean[], position: number): boolean {
    let woken = false;
    this.chains.forEach((chain, c) => {
      const rests = this.nodes.every((n, m) => n.chain !== chain || same[m]);
      if (this.rests[c] && !rests) {
        chain.reset(position);
        woken = true;
      }
      this.rests[c] = rests;
    });
    return woken;
  }

  /** One block of every mic. Shape: inputs of all mics of the song, in its order; results in `panned`, before the pan in `channels`. */
  process(inputs: readonly Planar[], positions: PositionLine): void {
    for (let m = 0; m < this.nodes.length; m++) {
      const node = this.nodes[m]!;
      node.chain.feed(node.owner, inputs[node.index]!);
      if (node.key >= 0) for (const k of node.chain.keyChannels(node.owner)) k.set(inputs[node.key]![0]!);
      node.advance(positions);
    }
    for (let c = 0; c < this.chains.length; c++)
      if (!this.rests[c]) this.chains[c]!.process(positions, this.late);
    for (let m = 0; m < this.nodes.length; m++) this.nodes[m]!.finish();
  }
}

const latencies = new Map<string, number>();
/** Latency of a chain of these types at a sample rate; every processor's is constant. */
export function chainLatency(chain: readonly ProcessorState[], sampleRate: number): number {
  let sum = 0;
  for (const { type } of chain) {
    const key = `${type} ${sampleRate}`;
    let latency = latencies.get(key);
    if (latency === undefined) {
      const processor = processorType(type).create();
      processor.prepare({ sampleRate, channels: 1, maxFrames: laneFrames });
      latency = processor.latency;
      latencies.set(key, latency);
    }
    sum += latency;
  }
  return sum;
}
/** Latency of the slowest mic of a song, frames. */
export const micLatency = (song: Song): number =>
  song.mics.reduce((most, m) => Math.max(most, chainLatency(m.chain, song.sampleRate)), 0);
