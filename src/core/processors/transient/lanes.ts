import * as layout from "./rows";
import type { AnyValues } from "../../params";
import {
  attackLeft,
  designTransient,
  heldFrames,
  mostBands,
  tailLeft,
  type TransientDesign,
  type TransientValues,
} from "./transient";
import { KernelRows } from "../../lanes/kernelRows";
import { clearLane, laneCount, laneFrames } from "../../lanes/laneMemory";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";
import { HitCursor } from "../../signal/hitCursor";

/** One band of four lanes: its filters, its envelopes, the peaks that they hold. */
class Band {
  readonly rows: KernelRows;
  readonly filters: SectionRows;
  readonly gains: number;
  readonly audio: number;
  private readonly ring;
  private at = 0;
  constructor(
    private readonly format: LaneFormat,
    private readonly hold: number,
  ) {
    const { memory, owners } = format;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.filters = new SectionRows(memory, owners, 2 * (mostBands - 1));
    this.ring = memory.floats(laneCount * hold);
    this.gains = memory.lanes();
    this.audio = memory.lanes();
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.filters.reset(owner);
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.ring.values, lane);
  }
  hear(x: number, known: number, peaks: number, most: number, frames: number): void {
    const { kernels } = this.format.memory;
    const { params, state } = this.rows;
    kernels.copyFloats(x, this.audio, laneCount * frames);
    this.filters.process(this.audio, frames);
    this.at = kernels.transientBand(
      params.pointer,
      state.pointer,
      this.ring.pointer,
      this.hold,
      this.at,
      known,
      this.audio,
      this.gains,
      peaks,
      most,
      frames,
    );
  }
  add(peaks: number, most: number, y: number, frames: number): void {
    this.format.memory.kernels.transientApply(
      this.rows.params.pointer,
      this.gains,
      peaks,
      most,
      this.audio,
      y,
      frames,
    );
  }
}

/** Attack and sustain over four lanes. */
export class TransientLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly bands: readonly Band[];
  private readonly designs: (TransientDesign | null)[];
  private readonly cursors: readonly HitCursor[];
  /** What is left of the attack and of the tail at each frame. */
  private readonly known;
  /** Held peaks of all bands together, and the largest gain of any. */
  private readonly totals;
  private count = 1;
  private byHits = false;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    const hold = heldFrames(sampleRate);
    this.bands = Array.from({ length: mostBands }, () => new Band(format, hold));
    this.designs = owners.map(() => null);
    this.cursors = owners.map(() => new HitCursor());
    this.known = memory.floats(2 * laneCount * laneFrames);
    this.totals = memory.floats(2 * laneCount * laneFrames);
  }
  set(owner: number, values: AnyValues): void {
    const d = designTransient(values as unknown as TransientValues, this.format.sampleRate);
    this.designs[owner] = d;
    this.bands.forEach(({ rows, filters }, b) => {
      rows.set(owner, {
        [layout.ATTACK]: d.wishes[b]!.attack,
        [layout.SUSTAIN]: d.wishes[b]!.sustain,
        [layout.RISE]: d.rise,
        [layout.FALL]: d.fall,
        [layout.TAIL]: d.tail,
        [layout.MOVE]: d.move,
        [layout.BY_HITS]: Number(d.byHits),
        [layout.PAIRED]: Number(this.format.owners[owner]!.width > 1),
        [layout.USED]: Number(b < d.bands.length),
        [layout.OUTPUT]: d.output,
      });
      filters.set(owner, d.bands[b] ?? []);
    });
    this.count = Math.max(...this.designs.map((each) => each?.bands.length ?? 1));
    this.byHits = this.designs.some((each) => each?.byHits);
  }
  reset(owner: number): void {
    for (const band of this.bands) band.reset(owner);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof TransientLanes)) return;
    this.bands.forEach(({ rows }, b) => rows.adopt(owner, from.bands[b]!.rows, fromOwner));
  }
  process(x: number, _dry: number, frames: number, context: LaneContext): void {
    const { bands, count, totals } = this;
    const known = this.byHits ? this.findKnown(context, frames) : 0;
    totals.values.fill(0);
    const most = totals.pointer + 4 * laneCount * laneFrames;
    for (let b = 0; b < count; b++) bands[b]!.hear(x, known, totals.pointer, most, frames);
    this.format.memory.kernels.clearFloats(x, laneCount * frames);
    for (let b = 0; b < count; b++) bands[b]!.add(totals.pointer, most, x, frames);
  }
  private findKnown({ hits, positions }: LaneContext, frames: number): number {
    const { values, pointer } = this.known;
    const { owners, sampleRate } = this.format;
    owners.forEach(({ first, width }, owner) => {
      const d = this.designs[owner];
      if (!d?.byHits) return;
      const cursor = this.cursors[owner]!;
      for (let i = 0; i < frames; i++) {
        const at = positions[owner]! + i;
        const since = (at - cursor.latest(hits[owner]!, at)) / sampleRate;
        const [fresh, tail] = [attackLeft(d, since), tailLeft(d, since)];
        for (let lane = first; lane < first + width; lane++) {
          values[laneCount * i + lane] = fresh;
          values[laneCount * (frames + i) + lane] = tail;
        }
      }
    });
    return pointer;
  }
}
