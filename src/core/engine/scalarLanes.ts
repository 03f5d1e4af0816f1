import type { AnyValues } from "../params";
import type { PartitionedResponse } from "../signal/partitionedResponse";
import type { ProcessContext, Processor, ProcessorType } from "../processor";
import { laneCount, laneFrames, type LaneMemory } from "../lanes/laneMemory";
import type { LaneOwner } from "../lanes/laneOwner";
import type { LaneContext, LaneGroup, LaneProcessor } from "../lanes/laneProcessor";

type Place = ReturnType<LaneMemory["floats"]>;

/** A processor without a kernel, such as the room, in its lanes: one scalar processor for each owner. */
export class ScalarLanes implements LaneProcessor {
  readonly latency: number;
  private readonly memory: LaneMemory;
  private readonly owners: readonly LaneOwner[];
  private readonly processors: Processor[];
  private readonly inputs: Float32Array[][];
  private readonly outputs: Float32Array[][];
  private readonly planar: Place[];
  private readonly keys: Place[];
  private readonly keyInputs: Float32Array[][];
  private readonly context: ProcessContext = {
    position: 0,
    key: null,
    hits: new Float64Array(0),
    beats: new Float64Array(0),
  };

  /** `widths`: channels per owner before and after the processor. */
  constructor(
    { memory, owners, sampleRate }: LaneGroup,
    type: ProcessorType,
    widths: readonly { readonly before: number; readonly after: number }[],
  ) {
    this.memory = memory;
    this.owners = owners;
    this.planar = Array.from({ length: laneCount }, () => memory.floats(laneFrames));
    this.keys = Array.from({ length: laneCount }, () => memory.floats(laneFrames));
    this.processors = widths.map(({ before }) => {
      const processor = type.create();
      processor.prepare({ sampleRate, channels: before, maxFrames: laneFrames });
      return processor;
    });
    this.latency = this.processors[0]?.latency ?? 0;
    const views = (places: Place[], first: number, width: number) =>
      places.slice(first, first + width).map((p) => p.values);
    this.inputs = owners.map(({ first }, o) => views(this.planar, first, widths[o]!.before));
    this.outputs = owners.map(({ first }, o) => views(this.planar, first, widths[o]!.after));
    this.keyInputs = owners.map(({ first, width }) => views(this.keys, first, width));
  }
  set(owner: number, values: AnyValues): void {
    this.processors[owner]!.set(values);
  }
  reset(owner: number): void {
    this.processors[owner]!.reset();
  }
  respond(owner: number, response: PartitionedResponse | null): void {
    this.processors[owner]!.respond?.(response);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (from instanceof ScalarLanes) this.processors[owner]!.adopt?.(from.processors[fromOwner]!);
  }
  process(x: number, _dry: number, frames: number, { positions, key, hits, beats }: LaneContext): void {
    const { kernels } = this.memory;
    const [a, b, c, d] = this.planar as [Place, Place, Place, Place];
    kernels.deinterleave(x, a.pointer, b.pointer, c.pointer, d.pointer, frames);
    if (key) {
      const [e, f, g, h] = this.keys as [Place, Place, Place, Place];
      kernels.deinterleave(key, e.pointer, f.pointer, g.pointer, h.pointer, frames);
    }
    const { context } = this;
    for (let o = 0; o < this.owners.length; o++) {
      context.key = key ? this.keyInputs[o]! : null;
      context.hits = hits[o]!;
      context.beats = beats;
      context.position = positions[o]!;
      this.processors[o]!.process(this.inputs[o]!, this.outputs[o]!, frames, context);
    }
    kernels.interleave(a.pointer, b.pointer, c.pointer, d.pointer, x, frames);
  }
  reductionDb(owner: number): number {
    return this.processors[owner]!.reductionDb ?? 0;
  }
}
