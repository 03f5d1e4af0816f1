import { clearLane, laneCount, laneFrames, type LaneMemory, type Rows } from "./laneMemory";
import { putRow, type LaneOwner } from "./laneOwner";
import type { LaneGroup } from "./laneProcessor";
import { oversamplingPast, oversamplings, type Oversampling } from "../signal/oversampledBend";
import { halfBands, shortFilters, shortWait } from "../signal/oversampler";

const factors = { "2 times": 2, "4 times": 4, "8 times": 8, "4 times, steep": null } as const;

/** One way to a multiple of the rate, over four lanes. */
interface Way {
  /** Times the rate by short filters; null: the steep ones. */
  readonly factor: 2 | 4 | 8 | null;
  readonly state: { readonly pointer: number; readonly values: Float32Array };
  /** Lanes that go this way. */
  readonly lanes: Rows;
  owners: number;
  /** Its filters hold the past. */
  ready: boolean;
}

/**
 * A bend at a multiple of the rate over four lanes. Lanes may go different ways; one that comes in goes over the past, as in
 * the scalar reference (signal/oversampledBend). Latency `Oversampler.latency`.
 */
export class BentLanes {
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly steepTaps: number;
  private readonly shortTaps: number;
  private readonly characters: number[];
  private readonly ways: readonly Way[];
  private readonly chosen: (Way | null)[];
  private readonly past: { pointer: number; values: Float32Array };
  private readonly came: number;
  private readonly went: number;
  private drives = 0;

  /** `params`: rows of the bend. `among`: the ways that can be chosen. */
  constructor(
    { memory, owners }: LaneGroup,
    private readonly params: Rows,
    private readonly among: readonly Oversampling[] = oversamplings,
  ) {
    this.memory = memory;
    this.owners = owners;
    const { saturationState: steep, saturationShortState: short } = memory.kernels;
    this.ways = among.map((name) => ({
      factor: factors[name],
      state: memory.floats((factors[name] === null ? steep : short).value / 4),
      lanes: memory.rows(1),
      owners: 0,
      ready: true,
    }));
    const place = (taps: readonly number[]): number => {
      const floats = memory.floats(taps.length);
      floats.values.set(taps);
      return floats.pointer;
    };
    this.steepTaps = place([...halfBands.up, ...halfBands.wide, ...halfBands.down]);
    const { up, wide, down } = shortFilters;
    this.shortTaps = place([...up, ...wide, ...down.odd, ...down.even, down.middle]);
    this.past = memory.floats(laneCount * oversamplingPast);
    this.came = memory.lanes();
    this.went = memory.lanes();
    this.characters = owners.map(() => 1);
    this.chosen = owners.map(() => null);
  }
  /** `character`: bits by which the kernel knows which bends it must compute. */
  choose(owner: number, oversampling: Oversampling, character: number): void {
    this.characters[owner] = character;
    const way = this.ways[this.among.indexOf(oversampling)]!;
    const before = this.chosen[owner]!;
    if (way === before) return;
    if (before) {
      before.owners--;
      putRow(before.lanes.values, 0, this.owners[owner]!, 0);
    }
    way.owners++;
    putRow(way.lanes.values, 0, this.owners[owner]!, 1);
    this.chosen[owner] = way;
  }
  reset(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) {
      for (const { state } of this.ways) clearLane(state.values, lane);
      clearLane(this.past.values, lane);
    }
  }
  adoptLine(owner: number, from: BentLanes, fromOwner: number): void {
    const [to, other] = [this.owners[owner]!, from.owners[fromOwner]!];
    const copy = (into: Float32Array, out: Float32Array) => {
      for (let lane = 0; lane < Math.min(to.width, other.width); lane++)
        for (let i = 0; i < into.length; i += laneCount)
          into[i + to.first + lane] = out[i + other.first + lane]!;
    };
    copy(this.past.values, from.past.values);
    this.ways.forEach((way, w) => {
      if (from.ways[w]!.ready) copy(way.state.values, from.ways[w]!.state.values);
      else way.ready = false;
    });
  }
  /**
   * x in place; `dry` is mixed in by the rows of saturation, 0: nothing is. `drives`: lanes of the drive of each frame, or 0.
   */
  process(x: number, dry: number, frames: number, drives = 0): void {
    this.drives = drives;
    const { ways, came, went } = this;
    const { kernels } = this.memory;
    for (const way of ways) {
      if (way.owners > 0 && !way.ready) this.goOver(way);
      way.ready = way.owners > 0;
    }
    this.remember(x, frames);
    let used = 0;
    for (const way of ways) if (way.owners > 0) used++;
    if (used > 1) kernels.copyFloats(x, came, laneCount * frames);
    for (const way of ways) {
      if (way.owners === 0) continue;
      if (used === 1) {
        this.run(way, dry, x, frames);
        return;
      }
      kernels.copyFloats(came, went, laneCount * frames);
      this.run(way, dry, went, frames);
      kernels.choose(way.lanes.pointer, went, x, frames);
    }
  }
  private run({ factor, state }: Way, dry: number, x: number, frames: number): void {
    let bits = 0;
    for (const c of this.characters) bits |= c;
    const { drives } = this;
    const { kernels, scratch } = this.memory;
    const p = this.params.pointer;
    if (factor === null)
      kernels.saturation(p, state.pointer, this.steepTaps, scratch, bits, drives, dry, x, frames);
    else {
      const wait = shortWait(factor);
      kernels.saturationShort(
        p,
        state.pointer,
        this.shortTaps,
        scratch,
        bits,
        drives,
        factor,
        wait,
        dry,
        x,
        frames,
      );
    }
  }
  private goOver(way: Way): void {
    way.state.values.fill(0);
    for (let at = 0; at < oversamplingPast; at += laneFrames) {
      this.memory.kernels.copyFloats(this.past.pointer + 16 * at, this.went, laneCount * laneFrames);
      this.run(way, 0, this.went, laneFrames);
    }
  }
  private remember(x: number, frames: number): void {
    const { pointer } = this.past;
    const kept = oversamplingPast - frames;
    this.memory.kernels.copyFloats(pointer + 16 * frames, pointer, laneCount * kept);
    this.memory.kernels.copyFloats(x, pointer + 16 * kept, laneCount * frames);
  }
}
