import type { PanPlace } from "../signal/pan";
import type { LaneOwner } from "../lanes/laneOwner";
import { laneCount, laneFrames, type LaneMemory } from "../lanes/laneMemory";
import { SpreadLanes } from "../lanes/spreadLanes";
import type { Planar } from "../processor";
import { lanesOf, widthAfter, widthAfterChain, type ChainOwner, type ChainTap } from "./laneChain";
import { PlaceLevels, type Lanes, type Seat } from "./lanes";
import { LaneSlot } from "./laneSlot";
import type { PositionLine } from "./positionLine";

type Place = ReturnType<LaneMemory["floats"]>;

/** One processor of a chain, by owner and place in it. */
interface Turn {
  readonly owner: number;
  readonly place: number;
  readonly lane: number;
}

/**
 * In which order processors of unlike chains run, and which of them side by side: always the type that fills most lanes now. A
 * chain keeps its own order. Pure.
 * Shape  types and lanes by chain; steps of turns that share a vector.
 */
export function planWeave(
  chains: readonly { readonly types: readonly string[]; readonly width: number }[],
): Turn[][] {
  const next = chains.map(() => 0);
  const steps: Turn[][] = [];
  for (;;) {
    const ready = new Map<string, number[]>();
    chains.forEach(({ types }, c) => {
      const type = types[next[c]!];
      if (type !== undefined) ready.set(type, [...(ready.get(type) ?? []), c]);
    });
    if (ready.size === 0) return steps;
    const lanes = (list: readonly number[]) => list.reduce((n, c) => n + chains[c]!.width, 0);
    const left = (list: readonly number[]) =>
      list.reduce((n, c) => n + chains[c]!.types.length - next[c]!, 0);
    // As full a vector as there is; among equals what has most before it.
    const [chosen] = [...ready.values()].sort(
      (a, b) => Math.min(laneCount, lanes(b)) - Math.min(laneCount, lanes(a)) || left(b) - left(a),
    );
    const step: Turn[] = [];
    let lane = 0;
    for (const c of [...chosen!].sort((a, b) => chains[b]!.width - chains[a]!.width)) {
      const { width } = chains[c]!;
      if (lane + width > laneCount) continue;
      step.push({ owner: c, place: next[c]!, lane });
      lane += width;
    }
    for (const { owner } of step) next[owner] = next[owner]! + 1;
    steps.push(step);
  }
}

/** A step as it runs. */
interface Step {
  readonly slot: LaneSlot;
  readonly turns: readonly Turn[];
  /** By lane: where its audio lies. */
  readonly pointers: readonly number[];
  readonly positions: Float64Array;
  /** By turn: frames that lie before it in its own chain. */
  readonly behind: readonly number[];
}

/** Owners that are spread to left and right together. */
interface Bench {
  readonly owners: readonly { readonly owner: number; readonly lane: number }[];
  readonly spread: SpreadLanes;
  readonly pointers: readonly number[];
}
interface TapBenches extends ChainTap {
  readonly benches: readonly Bench[];
  /** By owner: bench and place on it. */
  readonly seats: readonly { readonly bench: number; readonly index: number }[];
  /** By owner: copies of what has come so far, where the tap is not the end. */
  readonly copies: readonly Place[] | null;
}

/**
 * Unlike chains woven together: at every step the next processors that are of one type share a vector, whatever stands before
 * and behind them in their chains, so that chains that differ cost little more than equal ones.
 */
export class ChainWeave implements Lanes {
  private readonly widths: readonly number[];
  private readonly planar: readonly Place[];
  private readonly steps: readonly Step[];
  private readonly allSeats: readonly (readonly Seat[])[];
  private readonly latencies: readonly number[];
  private readonly taps: readonly TapBenches[];
  private readonly x: number;
  private watched = -1;
  private levels: readonly PlaceLevels[];

  constructor(
    private readonly memory: LaneMemory,
    private readonly owners: readonly ChainOwner[],
    sampleRate: number,
    taps: readonly ChainTap[] = [],
  ) {
    this.widths = owners.map(lanesOf);
    this.planar = this.widths.map((w) => memory.floats(w * laneFrames));
    this.x = memory.lanes();
    const spare = memory.floats(laneFrames);
    const lanePointers = (
      turns: readonly { owner: number; lane: number }[],
      places: readonly Place[],
    ): number[] => {
      const pointers = new Array<number>(laneCount).fill(spare.pointer);
      for (const { owner, lane } of turns)
        for (let w = 0; w < this.widths[owner]!; w++)
          pointers[lane + w] = places[owner]!.pointer + 4 * w * laneFrames;
      return pointers;
    };
    const seats: Seat[][] = owners.map(() => []);
    const behind = owners.map(() => 0);
    const channels = owners.map((o) => o.channels);
    const plan = planWeave(
      owners.map((o, i) => ({ types: o.chain.map((p) => p.type), width: this.widths[i]! })),
    );
    this.steps = plan.map((turns): Step => {
      const lanes = turns.map(({ owner, lane }): LaneOwner => ({ first: lane, width: this.widths[owner]! }));
      const around = turns.map(({ owner, place }) => {
        const before = channels[owner]!;
        channels[owner] = widthAfter(owners[owner]!.chain[place]!.type, before);
        return { before, after: channels[owner]! };
      });
      const states = turns.map(({ owner, place }) => owners[owner]!.chain[place]!);
      const slot = new LaneSlot({ memory, sampleRate, owners: lanes }, states, around, {
        keyChannels: 0,
        scalar: false,
      });
      const so = turns.map(({ owner }) => behind[owner]!);
      turns.forEach(({ owner }, index) => {
        seats[owner]!.push({ slot, index });
        behind[owner] = behind[owner]! + slot.latency;
      });
      return {
        slot,
        turns,
        pointers: lanePointers(turns, this.planar),
        positions: new Float64Array(turns.length),
        behind: so,
      };
    });
    this.allSeats = seats;
    this.latencies = behind;
    this.levels = owners.map((o) => new PlaceLevels(o.chain.length + 1));
    this.taps = taps.map((tap) => this.tapBenches(tap, lanePointers));
  }

  private tapBenches(
    tap: ChainTap,
    lanePointers: (turns: readonly { owner: number; lane: number }[], places: readonly Place[]) => number[],
  ): TapBenches {
    const { memory, owners, widths } = this;
    const end = owners.every((o) => o.chain.length === tap.behind || tap.behind === Infinity);
    const copies = end ? null : widths.map((w) => memory.floats(w * laneFrames));
    const groups: { owner: number; lane: number }[][] = [];
    let lane = laneCount;
    for (const owner of owners.map((_, i) => i).sort((a, b) => widths[b]! - widths[a]! || a - b)) {
      if (lane + widths[owner]! > laneCount) {
        groups.push([]);
        lane = 0;
      }
      groups[groups.length - 1]!.push({ owner, lane });
      lane += widths[owner]!;
    }
    const benches = groups.map((group): Bench => {
      const seats = group.map(({ owner, lane: first }): LaneOwner => ({ first, width: widths[owner]! }));
      const mono = group.map(({ owner }) => {
        const o = owners[owner]!;
        return widthAfterChain({ ...o, chain: o.chain.slice(0, tap.behind) }) === 1;
      });
      return {
        owners: group,
        spread: new SpreadLanes(memory, seats, mono),
        pointers: lanePointers(group, copies ?? this.planar),
      };
    });
    const seats = owners.map((_, owner) => {
      const bench = groups.findIndex((g) => g.some((s) => s.owner === owner));
      return { bench, index: groups[bench]!.findIndex((s) => s.owner === owner) };
    });
    return { ...tap, benches, seats, copies };
  }

  seats(owner: number): readonly Seat[] {
    return this.allSeats[owner]!;
  }
  latencyOf(owner: number): number {
    return this.latencies[owner]!;
  }
  channels(owner: number): readonly Float32Array[] {
    const { values } = this.planar[owner]!;
    return Array.from({ length: this.widths[owner]! }, (_, w) =>
      values.subarray(w * laneFrames, (w + 1) * laneFrames),
    );
  }
  pointer(owner: number): number {
    return this.planar[owner]!.pointer;
  }
  keyChannels(): readonly Float32Array[] {
    return []; // a chain with a key runs apart
  }
  private benchOf(owner: number, tap: number): { spread: SpreadLanes; index: number } {
    const { benches, seats } = this.taps[tap]!;
    const { bench, index } = seats[owner]!;
    return { spread: benches[bench]!.spread, index };
  }
  tapChannels(owner: number, tap: number): readonly Float32Array[] {
    const { spread, index } = this.benchOf(owner, tap);
    return spread.channels(index);
  }
  tapAhead(owner: number, tap: number): number {
    return this.allSeats[owner]!.slice(this.taps[tap]!.behind).reduce(
      (sum, { slot }) => sum + slot.latency,
      0,
    );
  }
  setPan(owner: number, place: PanPlace | null): void {
    this.taps.forEach(({ panned }, t) => {
      const { spread, index } = this.benchOf(owner, t);
      spread.set(index, place && !panned ? { ...place, position: 0 } : place);
    });
  }
  takePeak(owner: number): number {
    if (this.taps.length === 0) return 0;
    const { spread, index } = this.benchOf(owner, 0);
    return spread.takePeak(index);
  }
  watch(owner: number): void {
    this.watched = owner;
    if (owner >= 0) this.levels[owner]!.clear();
  }
  takeLevels(out: Float64Array): number {
    return this.watched < 0 ? 0 : this.levels[this.watched]!.take(out);
  }
  private measure(place: number): void {
    const { watched } = this;
    const width = this.widths[watched]!;
    for (const x of this.channels(watched)) this.levels[watched]!.add(place, x, 0, 1, 1 / width);
  }
  feed(owner: number, input: Planar): void {
    const { values } = this.planar[owner]!;
    for (let w = 0; w < this.widths[owner]!; w++)
      if (w < input.length) values.set(input[w]!, w * laneFrames);
      else values.fill(0, w * laneFrames, (w + 1) * laneFrames);
  }
  reset(position: number): void {
    for (const { slot } of this.steps) slot.reset(position);
    for (const { benches } of this.taps) for (const { spread } of benches) spread.reset();
  }

  process(positions: PositionLine, late: number): void {
    const { kernels } = this.memory;
    const n = laneFrames;
    if (this.watched >= 0) this.measure(0);
    for (let o = 0; o < this.owners.length; o++) this.keepFor(o, 0);
    for (let s = 0; s < this.steps.length; s++) {
      const { slot, turns, pointers, positions: at, behind } = this.steps[s]!;
      const [a, b, c, d] = pointers as [number, number, number, number];
      kernels.interleave(a, b, c, d, this.x, n);
      for (let t = 0; t < turns.length; t++) at[t] = positions.at(late + behind[t]!);
      slot.process(this.x, 0, n, at);
      kernels.deinterleave(this.x, a, b, c, d, n);
      for (let t = 0; t < turns.length; t++) {
        const { owner, place } = turns[t]!;
        if (owner === this.watched) this.measure(place + 1);
        this.keepFor(owner, place + 1);
      }
    }
    for (let t = 0; t < this.taps.length; t++) {
      const { benches } = this.taps[t]!;
      for (let g = 0; g < benches.length; g++) {
        const [a, b, c, d] = benches[g]!.pointers as [number, number, number, number];
        kernels.interleave(a, b, c, d, this.x, n);
        benches[g]!.spread.process(this.x);
      }
    }
  }
  /** Keeps what has come through `done` processors of a chain for the taps that lie there. */
  private keepFor(owner: number, done: number): void {
    for (let t = 0; t < this.taps.length; t++) {
      const { behind, copies } = this.taps[t]!;
      if (copies && Math.min(behind, this.owners[owner]!.chain.length) === done)
        copies[owner]!.values.set(this.planar[owner]!.values);
    }
  }
}
