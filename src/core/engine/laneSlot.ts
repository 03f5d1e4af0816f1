import { laneCount, laneFrames, LaneHold, type Rows } from "../lanes/laneMemory";
import { putRow } from "../lanes/laneOwner";
import type { LaneContext, LaneGroup, LaneProcessor } from "../lanes/laneProcessor";
import { ScalarLanes } from "./scalarLanes";
import { processorType } from "../processors";
import type { ProcessorState } from "../song/song";
import type { PartitionedResponse } from "../signal/partitionedResponse";
import { responses } from "./responses";
import { SlotHandle } from "./slotHandle";

/** Frames over which a processor fades in and out when it is switched. */
const switchFrames = 256;

export interface SlotWidths {
  readonly before: number;
  readonly after: number;
}

/**
 * The processors at one place of the chains of up to four lanes. Off costs only the delay that keeps time; on and off
 * are faded for each owner; what returns something that is no number is taken out and marked as failed.
 */
export class LaneSlot {
  readonly handles: readonly SlotHandle[];
  readonly processor: LaneProcessor;
  private readonly late: LaneHold;
  private readonly dry: { pointer: number; values: Float32Array };
  private readonly shares: Rows;
  private readonly context: LaneContext;
  private readonly responds: boolean;
  /** Per owner: the mic whose response it has been given, and that; `seen`: how much had come by then. */
  private readonly answers: (string | null)[];
  private readonly given: (PartitionedResponse | null)[];
  private seen = -1;

  /** `scalar`: leaves the kernels out, for comparison with them. */
  constructor(
    private readonly format: LaneGroup,
    states: readonly ProcessorState[],
    widths: readonly SlotWidths[],
    { keyChannels, scalar }: { keyChannels: number; scalar: boolean },
  ) {
    const { memory, owners } = format;
    const type = processorType(states[0]!.type);
    this.handles = states.map((state) => new SlotHandle(state, type.params));
    this.responds = type.responds;
    this.answers = states.map(() => null);
    this.given = states.map(() => null);
    const make = scalar ? null : type.lanes;
    const paired = owners.map((_, i) => Math.max(widths[i]!.before, keyChannels) > 1);
    this.processor = make ? make({ ...format, paired }) : new ScalarLanes(format, type, widths);
    this.late = new LaneHold(memory.kernels, memory, this.processor.latency);
    this.dry = memory.floats(laneCount * laneFrames);
    this.shares = memory.rows(2);
    this.context = {
      positions: new Float64Array(owners.length),
      key: 0,
      hits: owners.map(() => new Float64Array(0)),
      beats: new Float64Array(0),
    };
    this.handles.forEach((h, o) => {
      this.processor.set(o, h.glide.values);
      this.processor.reset(o);
    });
  }

  get latency(): number {
    return this.processor.latency;
  }
  /** Takes over what another slot of the same processor remembers of an owner. */
  adopt(owner: number, from: LaneSlot, fromOwner: number): void {
    this.processor.adopt?.(owner, from.processor, fromOwner);
    this.handles[owner]!.share = from.handles[fromOwner]!.share;
  }
  /** Takes over the audio that waits beside it. */
  adoptLine(owner: number, from: LaneSlot, fromOwner: number): void {
    this.processor.adoptLine?.(owner, from.processor, fromOwner);
    this.late.adopt(this.format.owners[owner]!, from.late, from.format.owners[fromOwner]!);
  }
  setHits(owner: number, hits: Float64Array): void {
    this.context.hits[owner] = hits;
  }
  setBeats(beats: Float64Array): void {
    this.context.beats = beats;
  }
  bandGains(owner: number, out: Float64Array): void {
    if (this.handles[owner]!.share > 0) this.processor.bandGains?.(owner, out);
  }
  reductionDb(owner: number): number {
    return this.handles[owner]!.share > 0 ? (this.processor.reductionDb?.(owner) ?? 0) : 0;
  }

  /** Forgets all audio and goes to the wanted values at once. */
  reset(position: number): void {
    this.late.reset();
    this.handles.forEach((h, o) => {
      h.moveTo(position);
      if (h.glide.jump()) this.processor.set(o, h.glide.values);
      this.processor.reset(o);
      h.share = h.goal;
    });
  }

  /** Brings values a block further; says whether some owner runs, and whether all run in full. */
  private advance(positions: Float64Array): { some: boolean; all: boolean } {
    let some = false;
    let all = true;
    for (let o = 0; o < this.handles.length; o++) {
      const h = this.handles[o]!;
      h.moveTo(positions[o]!);
      if (h.glide.step()) this.processor.set(o, h.glide.values);
      if (h.share === 0 && h.goal === 1) this.processor.reset(o);
      if (h.goal === 1 || h.share > 0) some = true;
      if (h.goal !== 1 || h.share < 1) all = false;
    }
    this.running.some = some;
    this.running.all = all;
    return this.running;
  }
  private readonly running = { some: false, all: false };

  /** Runs on the audio thread, in place over the lanes at x; `positions`: per owner the song frame of the first input frame. */
  process(x: number, key: number, frames: number, positions: Float64Array): void {
    if (this.responds) this.findResponses();
    const { some, all } = this.advance(positions);
    const { kernels } = this.format.memory;
    if (!some) return this.late.process(x, x, frames);
    if (!all || this.latency > 0) this.late.process(x, this.dry.pointer, frames);
    this.context.positions = positions;
    this.context.key = key;
    this.processor.process(x, this.dry.pointer, frames, this.context);
    const bad = kernels.unfinite(x, frames);
    if (bad !== 0) this.takeOut(bad, all && this.latency === 0);
    if (!all || bad !== 0) this.fade(x, frames);
  }

  /** Hands on responses that have come since, or are others now. */
  private findResponses(): void {
    for (let o = 0; o < this.handles.length; o++) {
      const wanted = this.handles[o]!.response;
      if (wanted === this.answers[o] && responses.changes === this.seen) continue;
      const response = wanted === null ? null : responses.get(wanted);
      this.answers[o] = wanted;
      if (response === this.given[o]) continue;
      this.given[o] = response;
      this.processor.respond?.(o, response);
    }
    this.seen = responses.changes;
  }

  /** Owners whose lanes hold what is no number go to the dry side for good. */
  private takeOut(bad: number, noDry: boolean): void {
    this.format.owners.forEach(({ first, width }, o) => {
      if ((bad & (((1 << width) - 1) << first)) === 0) return;
      this.handles[o]!.failed = true;
      this.handles[o]!.share = 0;
      this.processor.reset(o);
    });
    // Nothing was kept of the input: one silent block, from the next one on the dry side is there.
    if (noDry) this.dry.values.fill(0);
  }

  /** Fades towards the wanted side of every owner. */
  private fade(x: number, frames: number): void {
    const { owners, memory } = this.format;
    for (let o = 0; o < owners.length; o++) {
      const h = this.handles[o]!;
      const step = Math.sign(h.goal - h.share) / switchFrames;
      putRow(this.shares.values, 0, owners[o]!, h.share);
      putRow(this.shares.values, 1, owners[o]!, step);
      h.share = Math.min(1, Math.max(0, h.share + step * frames));
    }
    memory.kernels.fade(x, this.dry.pointer, this.shares.pointer, frames);
  }
}
