import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designBand, dynamicBands, dynamicEqLatency, type BandShape } from "./dynamicEq";
import { Detector } from "../../lanes/detector";
import { HitMasks } from "../../lanes/hitMasks";
import { KernelRows } from "../../lanes/kernelRows";
import { laneCount } from "../../lanes/laneMemory";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

/** One band over four lanes. */
class BandLanes {
  readonly rows: KernelRows;
  readonly shapes: BandShape[];
  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.shapes = owners.map(() => "off");
  }
  set(owner: number, values: AnyValues, name: string, byLevel: boolean): void {
    const { sampleRate, paired } = this.format;
    const d = designBand(values, name, sampleRate);
    const { shape } = d;
    this.shapes[owner] = shape;
    const is = (wanted: BandShape) => Number(shape === wanted);
    this.rows.set(owner, {
      [layout.IS_LOW]: is("low shelf"),
      [layout.IS_HIGH]: is("high shelf"),
      [layout.IS_BELL]: is("bell"),
      [layout.G]: d.g,
      [layout.K]: d.k,
      [layout.D1]: d.d1,
      [layout.D2]: d.d2,
      [layout.D3]: d.d3,
      [layout.REST]: d.restDb,
      [layout.RANGE]: d.rangeDb,
      [layout.THRESHOLD]: d.threshold,
      [layout.ATTACK]: d.attack,
      [layout.RELEASE]: d.release,
      [layout.HOLD]: d.holdFrames,
      [layout.BY_LEVEL]: Number(byLevel),
      [layout.PAIRED]: Number(paired[owner]),
      [layout.IS_WHOLE]: Number(d.whole),
    });
    this.rows.put(owner, layout.DESIGNED, NaN);
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.rows.put(owner, layout.DESIGNED, NaN);
  }
  adopt(owner: number, from: BandLanes, fromOwner: number): void {
    this.rows.adopt(owner, from.rows, fromOwner);
    this.rows.put(owner, layout.DESIGNED, NaN);
  }
}

/** Dynamic EQ over four lanes. */
export class DynamicEqLanes implements LaneProcessor {
  readonly latency: number;
  private readonly bands: BandLanes[];
  private readonly detector: Detector;
  private readonly masks: HitMasks;
  private readonly byHits: boolean[];

  constructor(private readonly format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.latency = dynamicEqLatency(sampleRate);
    this.bands = dynamicBands.map(() => new BandLanes(format));
    this.detector = new Detector(format, 0);
    this.masks = new HitMasks(memory, owners);
    this.byHits = owners.map(() => false);
  }
  set(owner: number, values: AnyValues): void {
    this.byHits[owner] = values["opens"] !== "level";
    this.bands.forEach((band, i) => band.set(owner, values, dynamicBands[i]!, values["opens"] !== "hits"));
  }
  reset(owner: number): void {
    for (const band of this.bands) band.reset(owner);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof DynamicEqLanes)) return;
    this.bands.forEach((band, i) => band.adopt(owner, from.bands[i]!, fromOwner));
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { kernels } = this.format.memory;
    const struck = this.masks.mark(context.hits, this.byHits, context.positions, frames);
    const heard = this.detector.hearApart(x, frames, context);
    kernels.copyFloats(dry, x, laneCount * frames);
    for (const { rows, shapes } of this.bands)
      if (shapes.some((s) => s !== "off"))
        kernels.dynamicBand(rows.params.pointer, rows.state.pointer, heard, struck, x, frames);
  }
  bandGains(owner: number, out: Float64Array): void {
    for (let b = 0; b < this.bands.length; b++) {
      const { shapes, rows } = this.bands[b]!;
      out[b] = shapes[owner] === "off" ? NaN : rows.read(owner, layout.GAIN);
    }
  }
  reductionDb(owner: number): number {
    let deepest = Infinity;
    for (let b = 0; b < this.bands.length; b++) {
      const { shapes, rows } = this.bands[b]!;
      if (shapes[owner] !== "off") deepest = Math.min(deepest, rows.read(owner, layout.GAIN));
    }
    return deepest === Infinity ? 0 : -deepest;
  }
}
