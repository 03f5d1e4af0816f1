import type { AnyValues } from "../../params";
import { CompressorLanes } from "../compressor/lanes";
import { designBandCompressor, mostBands, type BandCompressorValues } from "./bandCompressor";
import { laneCount, type Rows } from "../../lanes/laneMemory";
import { putRow } from "../../lanes/laneOwner";
import type { LaneContext, LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { SectionRows } from "../../lanes/sectionRows";

interface Band {
  readonly filters: SectionRows;
  readonly compressor: CompressorLanes;
  /** 1 in the lanes in which it is heard. */
  readonly heard: Rows;
}

/** Band compressor over four lanes: filters and compressors are the kernels of EQ and compressor. */
export class BandCompressorLanes implements LaneProcessor {
  readonly latency = 0;
  private readonly bands: readonly Band[];
  private readonly counts: number[];
  private readonly split: number;
  private readonly sum: number;

  constructor(private readonly format: LaneFormat) {
    const { memory, owners } = format;
    this.bands = Array.from({ length: mostBands }, () => ({
      filters: new SectionRows(memory, owners, 2 * (mostBands - 1)),
      compressor: new CompressorLanes(format, false),
      heard: memory.rows(1),
    }));
    this.counts = owners.map(() => 0);
    this.split = memory.lanes();
    this.sum = memory.lanes();
  }
  set(owner: number, values: AnyValues): void {
    const v = values as unknown as BandCompressorValues;
    const d = designBandCompressor(v, this.format.sampleRate);
    this.counts[owner] = d.bands.length;
    this.bands.forEach(({ filters, compressor, heard }, band) => {
      const used = band < d.bands.length;
      filters.set(owner, d.bands[band] ?? []);
      compressor.set(owner, d.compressors[band]! as unknown as AnyValues);
      putRow(heard.values, 0, this.format.owners[owner]!, Number(used && (d.alone < 0 || d.alone === band)));
    });
  }
  reset(owner: number): void {
    for (const { filters, compressor } of this.bands) {
      filters.reset(owner);
      compressor.reset(owner);
    }
  }
  adopt(owner: number, from: LaneProcessor, fromOwner: number): void {
    if (!(from instanceof BandCompressorLanes)) return;
    this.bands.forEach(({ compressor, filters }, band) => {
      compressor.adopt(owner, from.bands[band]!.compressor, fromOwner);
      filters.adopt(owner, from.bands[band]!.filters, fromOwner);
    });
  }
  process(x: number, _dry: number, frames: number, context: LaneContext): void {
    const { split, sum, counts } = this;
    const { kernels } = this.format.memory;
    const most = Math.max(...counts);
    kernels.clearFloats(sum, laneCount * frames);
    for (let band = 0; band < most; band++) {
      const { filters, compressor, heard } = this.bands[band]!;
      kernels.copyFloats(x, split, laneCount * frames);
      filters.process(split, frames);
      compressor.process(split, split, frames, context);
      kernels.addChosen(heard.pointer, split, sum, frames);
    }
    kernels.copyFloats(sum, x, laneCount * frames);
  }
  reductionDb(owner: number): number {
    let deepest = 0;
    for (let band = 0; band < this.counts[owner]!; band++)
      deepest = Math.max(deepest, this.bands[band]!.compressor.reductionDb(owner));
    return deepest;
  }
}
