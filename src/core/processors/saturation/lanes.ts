import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designSaturation, type SaturationValues } from "./saturation";
import { halfBands, Oversampler } from "../../signal/oversampler";
import { clearLane, laneCount, type LaneMemory, type Rows } from "../../lanes/laneMemory";
import { putRow, type LaneOwner } from "../../lanes/laneOwner";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

/** Bits by which the kernel knows which bends it must compute. */
const characterBits = { soft: 1, rounded: 2, hard: 4 } as const;

/** Saturation over four lanes. */
export class SaturationLanes implements LaneProcessor {
  readonly latency = Oversampler.latency;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly params: Rows;
  private readonly state: { pointer: number; values: Float32Array };
  private readonly taps: number;
  private readonly characters: number[];

  constructor({ memory, owners }: LaneFormat) {
    this.memory = memory;
    this.owners = owners;
    this.params = memory.rows(layout.PARAMS);
    this.state = memory.floats(memory.kernels.saturationState.value / 4);
    const { up, wide, down } = halfBands;
    const taps = memory.floats(up.length + wide.length + down.length);
    taps.values.set([...up, ...wide, ...down]);
    this.taps = taps.pointer;
    this.characters = owners.map(() => 1);
  }
  set(owner: number, values: AnyValues): void {
    const d = designSaturation(values as unknown as SaturationValues);
    const written = {
      [layout.DRIVE]: d.drive,
      [layout.BIAS]: d.bias,
      [layout.CENTRE]: d.centre,
      [layout.WET]: d.wet,
      [layout.STRAIGHT]: d.straight,
      [layout.HARD]: d.character === "hard" ? 1 : 0,
      [layout.ROUNDED]: d.character === "rounded" ? 1 : 0,
    };
    for (const [row, value] of Object.entries(written))
      putRow(this.params.values, Number(row), this.owners[owner]!, value);
    this.characters[owner] = characterBits[d.character];
  }
  reset(owner: number): void {
    const { first, width } = this.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.state.values, lane);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof SaturationLanes)) return;
    const [to, other] = [this.owners[owner]!, from.owners[fromOwner]!];
    for (let lane = 0; lane < Math.min(to.width, other.width); lane++)
      for (let i = 0; i < this.state.values.length; i += laneCount)
        this.state.values[i + to.first + lane] = from.state.values[i + other.first + lane]!;
  }
  process(x: number, dry: number, frames: number): void {
    let bits = 0;
    for (const c of this.characters) bits |= c;
    const { kernels, scratch } = this.memory;
    kernels.saturation(this.params.pointer, this.state.pointer, this.taps, scratch, bits, dry, x, frames);
  }
}
