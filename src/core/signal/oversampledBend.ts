import { RecentFrames } from "./recentFrames";
import { Oversampler, ShortOversampler, type RateWay } from "./oversampler";

export const oversamplings = ["4 times", "2 times", "8 times", "4 times, steep"] as const;
export type Oversampling = (typeof oversamplings)[number];

/** Bends `frames` frames in place at `factor` times the rate. */
export interface Bend {
  bend(fast: Float64Array, frames: number, factor: number): void;
}

/** Frames after which no filter of any way holds anything of the past. */
export const oversamplingPast = 256;

/**
 * A bend of one channel at a multiple of the rate that may change while it runs: all ways are equally late, and one that comes
 * in first goes over the past, so that it gives what it would have given had it always run. Latency `Oversampler.latency`.
 */
export class OversampledBend {
  private readonly ways: Readonly<Record<Oversampling, RateWay>>;
  private readonly past = new RecentFrames(oversamplingPast);
  private readonly nothing: Float32Array;
  private way: RateWay;
  private next: RateWay;

  constructor(maxFrames: number) {
    this.ways = {
      "2 times": new ShortOversampler(2, maxFrames),
      "4 times": new ShortOversampler(4, maxFrames),
      "8 times": new ShortOversampler(8, maxFrames),
      "4 times, steep": new Oversampler(maxFrames),
    };
    this.nothing = new Float32Array(maxFrames);
    this.way = this.next = this.ways["4 times"];
  }
  choose(oversampling: Oversampling): void {
    this.next = this.ways[oversampling];
  }
  reset(): void {
    this.way = this.next;
    this.way.reset();
    this.past.reset();
  }
  /** The output may be the input. */
  process(x: Float32Array, y: Float32Array, frames: number, by: Bend): void {
    if (this.way !== this.next) this.goOver(by, frames);
    this.past.take(x, frames);
    this.run(x, y, frames, by);
  }
  private run(x: Float32Array, y: Float32Array, frames: number, by: Bend): void {
    const { way } = this;
    way.up(x, frames);
    by.bend(way.fast, frames, way.factor);
    way.down(y, frames);
  }
  /** The next way over the past, in steps no longer than a block. */
  private goOver(by: Bend, most: number): void {
    this.way = this.next;
    this.way.reset();
    for (let at = 0; at < oversamplingPast; at += most) {
      const n = Math.min(most, oversamplingPast - at);
      this.run(this.past.frames.subarray(at, at + n), this.nothing, n, by);
    }
  }
}
