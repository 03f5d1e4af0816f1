import type { AnyValues } from "../../params";
import { LimiterGains, limiterLatency, type LimiterValues } from "./limiter";
import { clearLane, laneCount, laneFrames } from "../../lanes/laneMemory";
import type { LaneFormat, LaneProcessor } from "../../lanes/laneProcessor";
import { halfTaps, truePeakTaps } from "../../signal/peakBetween";

const past = 2 * halfTaps;

/** Limiter over four lanes: true peaks by a kernel, the gains of each mic or bus as in the scalar reference. */
export class LimiterLanes implements LaneProcessor {
  readonly latency: number;
  private readonly limits: readonly LimiterGains[];
  private readonly taps;
  /** The past, then a block. */
  private readonly line;
  private readonly worth;
  private readonly peaks;
  private readonly gains;
  private readonly peaksOfOwner = new Float64Array(laneFrames);
  private readonly gainsOfOwner = new Float64Array(laneFrames);

  constructor(private readonly format: LaneFormat) {
    const { memory, owners, sampleRate } = format;
    this.latency = limiterLatency(sampleRate);
    this.limits = owners.map(() => new LimiterGains(sampleRate));
    const between = truePeakTaps.slice(1).flatMap((taps) => [...taps]);
    this.taps = memory.floats(between.length);
    this.taps.values.set(between);
    this.line = memory.floats(laneCount * (past + laneFrames));
    this.worth = memory.floats(laneCount);
    this.worth.values.fill(Infinity);
    this.peaks = memory.floats(laneCount * laneFrames);
    this.gains = memory.floats(laneCount * laneFrames);
  }
  set(owner: number, values: AnyValues): void {
    const limit = this.limits[owner]!;
    limit.set(values as unknown as LimiterValues);
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) this.worth.values[lane] = 0.25 * limit.worth;
  }
  reset(owner: number): void {
    const { first, width } = this.format.owners[owner]!;
    for (let lane = first; lane < first + width; lane++) clearLane(this.line.values, lane);
    this.limits[owner]!.reset();
  }
  process(x: number, dry: number, frames: number): void {
    const { kernels } = this.format.memory;
    const { line, taps, worth, peaks, gains } = this;
    kernels.copyFloats(x, line.pointer + 4 * laneCount * past, laneCount * frames);
    kernels.truePeaks(taps.pointer, line.pointer, worth.pointer, peaks.pointer, frames);
    for (let owner = 0; owner < this.limits.length; owner++) this.findGains(owner, frames);
    kernels.multiply(dry, gains.pointer, x, frames);
  }
  private findGains(owner: number, frames: number): void {
    const { peaksOfOwner, gainsOfOwner } = this;
    const { first, width } = this.format.owners[owner]!;
    const [peaks, gains] = [this.peaks.values, this.gains.values];
    for (let i = 0; i < frames; i++) {
      const a = peaks[laneCount * i + first]!;
      peaksOfOwner[i] = width > 1 ? Math.max(a, peaks[laneCount * i + first + 1]!) : a;
    }
    this.limits[owner]!.find(peaksOfOwner, gainsOfOwner, frames);
    for (let i = 0; i < frames; i++)
      for (let lane = first; lane < first + width; lane++) gains[laneCount * i + lane] = gainsOfOwner[i]!;
  }
  reductionDb(owner: number): number {
    return this.limits[owner]!.reductionDb;
  }
}
