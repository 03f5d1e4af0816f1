import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { compressorLatency, designCompressor, detectorPlaces, type CompressorValues } from "./compressor";
import { dbToGain } from "../../signal/level";
import { Detector } from "../../lanes/detector";
import { KernelRows } from "../../lanes/kernelRows";
import { laneCount, LaneWait, type Rows } from "../../lanes/laneMemory";
import { putRow } from "../../lanes/laneOwner";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

/** Compressor over four lanes. */
export class CompressorLanes implements LaneProcessor {
  readonly latency: number;
  private readonly rows: KernelRows;
  private readonly detector: Detector;
  private readonly wait: LaneWait;
  private readonly designs: (Design | null)[];
  /** 1 in the lanes of pairs of which only mid or side is turned down. */
  private readonly turned: Rows;
  private keyed = false;
  /** Some lane follows the mean power. */
  private rms = 0;
  /** Some lane holds, releases by the programme, or works backwards. */
  private more = 0;
  private looksAhead = false;
  private someTurned = false;

  /** `waits`: it can look ahead; without that its latency is 0. */
  constructor(
    private readonly format: LaneFormat,
    waits = true,
  ) {
    const { memory, owners, sampleRate } = format;
    this.latency = waits ? compressorLatency(sampleRate) : 0;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.detector = new Detector(format, detectorPlaces);
    this.wait = new LaneWait(memory, this.latency);
    this.turned = memory.rows(1);
    this.designs = owners.map(() => null);
  }
  set(owner: number, values: AnyValues): void {
    const { sampleRate, owners } = this.format;
    const d = designCompressor(values as unknown as CompressorValues, sampleRate);
    this.rows.set(owner, {
      [layout.BEND]: d.bend,
      [layout.KNEE]: d.knee,
      [layout.SLOPE]: d.slope,
      [layout.CURVE]: d.curve,
      [layout.UP]: d.up,
      [layout.DOWN]: d.down,
      [layout.MAKEUP]: d.makeup,
      [layout.WET]: d.wet,
      [layout.RMS]: Number(d.rms),
      [layout.AVERAGE]: d.average,
      [layout.BEND_LEVEL]: dbToGain(d.bend),
      [layout.RANGE]: d.range,
      [layout.HOLD]: d.hold,
      [layout.SLOWLY]: d.slowly,
      [layout.FEEDBACK]: Number(d.feedback),
      [layout.PROGRAMME]: Number(d.programme),
      [layout.BOTH]: Number(d.both),
    });
    this.designs[owner] = d;
    this.wait.set(owners[owner]!, this.latency > 0 ? d.wait : 0);
    this.detector.set(owner, d.sections);
    const turned = this.isTurned(owner);
    putRow(this.turned.values, 0, owners[owner]!, Number(turned));
    // What is not turned down keeps its level to the bit: nothing of it is wet.
    const { first, width } = owners[owner]!;
    if (turned)
      this.rows.params.values[laneCount * layout.WET + first + (d.side === "mid" ? width - 1 : 0)] = 0;
    this.pair(owner);
    this.gather();
  }
  private isTurned(owner: number): boolean {
    return this.format.owners[owner]!.width > 1 && (this.designs[owner]?.side ?? "both") !== "both";
  }
  /** Both lanes share a detector, but for those that each hear their own mid or side. */
  private pair(owner: number): void {
    const shares = this.format.paired[owner]! && (this.keyed || !this.isTurned(owner));
    this.rows.set(owner, { [layout.PAIRED]: Number(shares) });
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.detector.reset(owner);
    this.wait.reset(this.format.owners[owner]!);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof CompressorLanes)) return;
    this.rows.adopt(owner, from.rows, fromOwner);
    this.detector.adopt(owner, from.detector, fromOwner);
  }
  adoptLine(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (from instanceof CompressorLanes)
      this.wait.adopt(this.format.owners[owner]!, from.wait, from.format.owners[fromOwner]!);
  }
  /** What some lane asks of the kernel, looked up when values change and not at every block. */
  private gather(): void {
    const any = (is: (design: Design) => boolean) => this.designs.some((d) => d !== null && is(d));
    this.rms = any((d) => d.rms) ? 1 : 0;
    this.more = any((d) => d.hold > 0 || d.programme || d.feedback) ? 1 : 0;
    this.looksAhead = any((d) => d.ahead);
    this.someTurned = this.turned.values.includes(1);
  }
  process(x: number, dry: number, frames: number, context: LaneContext): void {
    const { params, state } = this.rows;
    const { kernels, scratch } = this.format.memory;
    const keyed = context.key !== 0;
    if (keyed !== this.keyed) {
      this.keyed = keyed;
      for (let o = 0; o < this.designs.length; o++) this.pair(o);
    }
    const { rms, more } = this;
    const heard = this.hear(x, dry, this.someTurned, frames, context);
    if (!this.someTurned)
      return kernels.compressor(params.pointer, state.pointer, rms, more, scratch, heard, dry, x, frames);
    kernels.copyFloats(dry, x, laneCount * frames);
    kernels.midSide(this.turned.pointer, 0.5, x, frames);
    kernels.compressor(params.pointer, state.pointer, rms, more, scratch, heard, x, x, frames);
    kernels.midSide(this.turned.pointer, 1, x, frames);
  }
  /** Lanes of what the detector hears, as late as it waits. */
  private hear(x: number, dry: number, turned: boolean, frames: number, context: LaneContext): number {
    const { kernels } = this.format.memory;
    const own = turned && context.key === 0;
    // Without look-ahead the input is as late as what comes out: the dry side holds it already.
    const plain = !this.looksAhead && !own && context.key === 0 && !this.detector.filtering;
    if (plain) {
      this.wait.record(x, frames, kernels);
      return dry;
    }
    const heard = this.detector.hearApart(x, frames, context);
    if (own) kernels.midSide(this.turned.pointer, 0.5, heard, frames);
    this.wait.process(heard, frames, kernels);
    return heard;
  }
  reductionDb(owner: number): number {
    const { first, width } = this.format.owners[owner]!;
    return this.isTurned(owner) && this.designs[owner]!.side === "side"
      ? this.rows.state.values[laneCount * layout.DEEPEST + first + width - 1]!
      : this.rows.read(owner, layout.DEEPEST);
  }
}

type Design = ReturnType<typeof designCompressor>;
