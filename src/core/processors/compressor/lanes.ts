import * as layout from "./rows";
import type { AnyValues } from "../../params";
import { designCompressor, detectorPlaces, type CompressorValues } from "./compressor";
import { dbToGain } from "../../signal/level";
import { Detector } from "../../lanes/detector";
import { KernelRows } from "../../lanes/kernelRows";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";

/** Compressor over four lanes. */
export class CompressorLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly rows: KernelRows;
  private readonly detector: Detector;
  private readonly rms: boolean[];
  /** Holds, releases by the programme, or works backwards. */
  private readonly more: boolean[];

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.rows = new KernelRows(memory, owners, { params: layout.PARAMS, state: layout.STATES });
    this.detector = new Detector(format, detectorPlaces);
    this.rms = owners.map(() => false);
    this.more = owners.map(() => false);
  }
  set(owner: number, values: AnyValues): void {
    const { sampleRate, paired } = this.format;
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
      [layout.PAIRED]: Number(paired[owner]),
      [layout.BEND_LEVEL]: dbToGain(d.bend),
      [layout.RANGE]: d.range,
      [layout.HOLD]: d.hold,
      [layout.SLOWLY]: d.slowly,
      [layout.FEEDBACK]: Number(d.feedback),
      [layout.PROGRAMME]: Number(d.programme),
      [layout.BOTH]: Number(d.both),
    });
    this.rms[owner] = d.rms;
    this.more[owner] = d.hold > 0 || d.programme || d.feedback;
    this.detector.set(owner, d.sections);
  }
  reset(owner: number): void {
    this.rows.clear(owner);
    this.detector.reset(owner);
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof CompressorLanes)) return;
    this.rows.adopt(owner, from.rows, fromOwner);
    this.detector.adopt(owner, from.detector, fromOwner);
  }
  process(x: number, _dry: number, frames: number, context: LaneContext): void {
    const { params, state } = this.rows;
    const rms = this.rms.includes(true) ? 1 : 0;
    const more = this.more.includes(true) ? 1 : 0;
    const heard = this.detector.hear(x, frames, context);
    this.format.memory.kernels.compressor(params.pointer, state.pointer, rms, more, heard, x, frames);
  }
  reductionDb(owner: number): number {
    return this.rows.read(owner, layout.DEEPEST);
  }
}
