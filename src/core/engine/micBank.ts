import { laneCount, laneFrames, type LaneMemory } from "../lanes/laneMemory";
import type { Planar } from "../processor";
import { processorType } from "../processors";
import { keysOf, needs } from "../song/graph";
import type { Mic, ProcessorState, Song } from "../song/song";
import { cancels } from "./cancelStage";
import { ChainWeave } from "./chainWeave";
import { LaneChain, lanesOf, type ChainKey, type ChainTap } from "./laneChain";
import { adoptChain, setBeats, setHits, type Adopted, type Lanes } from "./lanes";
import { MicNode } from "./micNode";
import { chainTap, micTaps, tapsNeeded, type MicTap } from "./micTaps";
import type { PositionLine } from "./positionLine";
import { SectionMap } from "./sectionValues";
import { beatsOf, hitsOf, strokesMoved } from "./strokesOf";

/**
 * A chain without the cancelling that begins it, which the engine does for all mics before, and without the pan that ends
 * it, which makes two channels and runs behind the lanes.
 */
export const inLanes = (chain: readonly ProcessorState[]): readonly ProcessorState[] =>
  chain.slice(cancels(chain) ? 1 : 0, chain[chain.length - 1]?.type === "pan" ? -1 : undefined);

/** Keys of a chain, each with the slots that listen to it. `channelsOf`: of what is listened to. */
export const chainKeys = (
  chain: readonly ProcessorState[],
  keys: readonly string[],
  channelsOf: (id: string) => number,
): ChainKey[] =>
  keys.map((id) => ({
    channels: channelsOf(id),
    slots: chain.flatMap((p, s) => (p.key === id ? [s] : [])),
  }));

/** Mics that listen to a bus and so wait for it: they run in the mix, not before it. */
export function lateMics(song: Pick<Song, "mics" | "buses">): Set<string> {
  const before = needs(song);
  return new Set(song.mics.filter((m) => before.get(m.id)!.size > 0).map((m) => m.id));
}

const typesOf = (mic: Mic): string =>
  inLanes(mic.chain)
    .map((p) => p.type)
    .join(" ");

/** Lanes of a group that are filled well enough to stay by themselves. */
const wellFilled = laneCount - 1;

/**
 * Mics that run together: those of equal chains four lanes at a time, stereo mics first so that pairs stay together; what is left
 * of unlike chains woven, up to `mostWoven` lanes. Mics that wait for a bus are in none. Shape: lists of indices into the song's mics.
 */
export function groupMics(song: Song, mostWoven = 6 * laneCount): number[][] {
  const lanes = (m: number) => lanesOf({ ...song.mics[m]!, chain: inLanes(song.mics[m]!.chain) });
  const late = lateMics(song);
  const order = song.mics
    .map((_, m) => m)
    .filter((m) => !late.has(song.mics[m]!.id))
    .sort((a, b) => lanes(b) - lanes(a) || a - b);
  interface Group {
    readonly types: string;
    readonly alone: boolean;
    used: number;
    readonly mics: number[];
  }
  const groups: Group[] = [];
  for (const m of order) {
    const types = typesOf(song.mics[m]!);
    // A mic with a key runs alone: its detectors hear what those beside it do not.
    const alone = keysOf(song.mics[m]!).length > 0;
    const fits = alone
      ? undefined
      : groups.find((g) => !g.alone && g.types === types && g.used + lanes(m) <= laneCount);
    const group = fits ?? { types, alone, used: 0, mics: [] };
    if (!fits) groups.push(group);
    group.mics.push(m);
    group.used += lanes(m);
  }
  const stays = (g: Group) => g.alone || g.used >= wellFilled;
  const woven: { used: number; mics: number[] }[] = [];
  for (const { used, mics } of groups.filter((g) => !stays(g))) {
    const fits = woven.find((w) => w.used + used <= mostWoven);
    if (fits) {
      fits.used += used;
      fits.mics.push(...mics);
    } else woven.push({ used, mics: [...mics] });
  }
  return [...groups.filter(stays), ...woven].map((g) => g.mics);
}

/** Groups of lanes that a song's memory must have room for at most: as if every mic and bus ran alone. */
export const lanesMemory = ({ mics, buses }: Pick<Song, "mics" | "buses">): number =>
  mics.length + buses.length;

/** The lanes of some mics, with all they hand on. Keys come from one-channel mics or two-channel buses. */
export function micLanes(
  song: Song,
  group: readonly number[],
  memory: LaneMemory,
  taps: readonly (readonly MicTap[])[],
): { chain: Lanes; groupTaps: MicTap[] } {
  const owners = group.map((m) => ({ ...song.mics[m]!, chain: inLanes(song.mics[m]!.chain) }));
  const [{ chain }] = owners as [(typeof owners)[number]];
  const keys = owners.length === 1 ? keysOf(owners[0]!) : [];
  const isMic = (id: string) => song.mics.some((m) => m.id === id);
  const groupTaps = micTaps.filter((t) => group.some((m) => taps[m]!.includes(t)));
  const equal = owners.every((_, o) => typesOf(song.mics[group[o]!]!) === typesOf(song.mics[group[0]!]!));
  if (!equal || owners.reduce((n, o) => n + lanesOf(o), 0) > laneCount)
    return {
      groupTaps,
      chain: new ChainWeave(
        memory,
        owners,
        song.sampleRate,
        groupTaps.map((t) => weaveTap(t, chain)),
      ),
    };
  return {
    groupTaps,
    chain: new LaneChain(memory, owners, song.sampleRate, {
      keys: chainKeys(chain, keys, (id) => (isMic(id) ? 1 : 2)),
      taps: groupTaps.map((t) => chainTap(t, chain)),
    }),
  };
}

/** A tap of chains of different length: the end is wherever each ends. */
const weaveTap = (tap: MicTap, chain: readonly ProcessorState[]): ChainTap => {
  const found = chainTap(tap, chain);
  return found.behind === chain.length ? { ...found, behind: Infinity } : found;
};

/**
 * The chains of some or all mics of a song, each up to its pan, brought to one latency. Of other mics they hear at most
 * what goes into their chains, as a key, so that a song's mics can be spread over threads without changing a sample.
 */
export class MicBank {
  readonly nodes: readonly MicNode[];
  private taken: Song | null = null;
  /** Chains that rest, because all their mics are taken from another bank. */
  private readonly rests: boolean[];
  /** By node: indices into the song's mics of the keys it listens to. */
  private readonly keys: readonly (readonly number[])[];

  private constructor(
    song: Song,
    private readonly chains: readonly Lanes[],
    nodes: MicNode[],
    private readonly late: number,
    private borrowed: ReadonlySet<Lanes>,
    private readonly signatures: ReadonlyMap<string, Lanes>,
  ) {
    this.rests = chains.map(() => false);
    const order = new Map(song.mics.map((m, i) => [m.id, i]));
    this.nodes = nodes.sort((a, b) => order.get(a.mic.id)! - order.get(b.mic.id)!);
    this.keys = this.nodes.map((n) => keysOf(n.mic).map((id) => order.get(id)!));
    const latency = micLatency(song);
    for (const node of this.nodes) if (!borrowed.has(node.chain)) node.padTo(latency);
    this.update(song, new SectionMap(song.sections, song.sampleRate));
  }

  /** What makes one group's lanes unlike another's. */
  private static signature(
    song: Song,
    group: readonly number[],
    taps: readonly (readonly MicTap[])[],
  ): string {
    const mics = group.map((m) => {
      const { id, chain, channels } = song.mics[m]!;
      return [id, channels, chain.map((p) => [p.id, p.type, p.key ?? null]), taps[m]];
    });
    return JSON.stringify([mics, micLatency(song), song.sampleRate]);
  }

  /**
   * Makes a bank group by group. `groups` as `groupMics` gives them, or some of them; mics come in `late` frames late. From an
   * `old` bank it takes what is the same; that still runs there until `takeOver`.
   */
  static *build(
    song: Song,
    groups: readonly number[][],
    memory: LaneMemory,
    late: number,
    old: MicBank | null = null,
  ): Generator<void, MicBank> {
    const chains: Lanes[] = [];
    const nodes: MicNode[] = [];
    const taps = tapsNeeded(song);
    const borrowed = new Set<Lanes>();
    const signatures = new Map<string, Lanes>();
    for (const group of groups) {
      const signature = MicBank.signature(song, group, taps);
      const same = old?.signatures.get(signature);
      if (same) {
        chains.push(same);
        signatures.set(signature, same);
        borrowed.add(same);
        nodes.push(...old!.nodes.filter((n) => n.chain === same));
        continue;
      }
      const { chain, groupTaps } = micLanes(song, group, memory, taps);
      chains.push(chain);
      signatures.set(signature, chain);
      group.forEach((m, owner) =>
        nodes.push(
          new MicNode(
            song.mics[m]!,
            inLanes(song.mics[m]!.chain),
            chain,
            owner,
            late,
            m,
            taps[m]!,
            groupTaps,
          ),
        ),
      );
      yield;
    }
    return new MicBank(song, chains, nodes, late, borrowed, signatures);
  }

  /** Takes values, switches and hits of a song with the same mics and chains. */
  update(song: Song, sections: SectionMap): void {
    const moved = strokesMoved(this.taken, song);
    const beats = this.taken?.tempo === song.tempo ? null : beatsOf(song);
    const mics = new Map(song.mics.map((m) => [m.id, m]));
    for (const node of this.nodes) {
      const mic = mics.get(node.mic.id)!;
      node.take(mic, inLanes(mic.chain), sections);
      if (moved(mic)) setHits(node.chain, node.owner, hitsOf(song, mic));
      if (beats) setBeats(node.chain, node.owner, beats);
    }
    this.taken = song;
  }

  reset(position: number): void {
    for (const chain of this.chains) if (!this.borrowed.has(chain)) chain.reset(position);
    for (const node of this.nodes) if (!this.borrowed.has(node.chain)) node.reset(position);
  }
  /** Frames of the mics' latency that are filled while the stage before them runs already: all, when the mics do, too. */
  get filled(): number {
    return this.nodes.every((n) => this.borrowed.has(n.chain))
      ? (this.nodes[0]?.padded ?? this.late)
      : this.late;
  }
  /** From now on it runs itself what it took from the old bank. */
  takeOver(): void {
    this.borrowed = new Set();
  }
  /** Takes over what new lanes' processors remember in an old bank. */
  adopt(old: MicBank, what: Adopted): void {
    for (const node of this.nodes) {
      const other = old.nodes.find((n) => n.mic.id === node.mic.id);
      if (other && other.chain !== node.chain)
        adoptChain(node.chain, node.owner, other.chain, other.owner, what);
    }
  }

  /**
   * Lets chains rest whose mics are all `same` as in another bank (by mic of the song). True when one that rested runs again: it begins
   * with silence.
   */
  rest(same: readonly boolean[], position: number): boolean {
    let woken = false;
    this.chains.forEach((chain, c) => {
      const rests = this.nodes.every((n) => n.chain !== chain || same[n.index]);
      if (this.rests[c] && !rests) {
        chain.reset(position);
        woken = true;
      }
      this.rests[c] = rests;
    });
    return woken;
  }

  /** One block of every mic. Shape: inputs of all mics of the song, in its order; results in `outputs` by tap, before the pan in `channels`. */
  process(inputs: readonly Planar[], positions: PositionLine): void {
    for (let m = 0; m < this.nodes.length; m++) {
      const node = this.nodes[m]!;
      if (this.borrowed.has(node.chain)) continue;
      node.chain.feed(node.owner, inputs[node.index]!);
      for (let k = 0; k < this.keys[m]!.length; k++)
        for (const x of node.chain.keyChannels(node.owner, k)) x.set(inputs[this.keys[m]![k]!]![0]!);
      node.advance(positions);
    }
    for (let c = 0; c < this.chains.length; c++)
      if (!this.rests[c] && !this.borrowed.has(this.chains[c]!))
        this.chains[c]!.process(positions, this.late);
    for (let m = 0; m < this.nodes.length; m++)
      if (!this.borrowed.has(this.nodes[m]!.chain)) this.nodes[m]!.finish();
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
/** Latency of the slowest mic of a song that waits for no bus, frames. */
export function micLatency(song: Song): number {
  const late = lateMics(song);
  return song.mics.reduce(
    (most, m) => (late.has(m.id) ? most : Math.max(most, chainLatency(m.chain, song.sampleRate))),
    0,
  );
}
