import { number, type ParamTable, type ParamValues } from "../../params";
import type { Planar, ProcessContext, Processor, StreamFormat } from "../../processor";
import { Cascade } from "../../signal/biquad";
import { detectorBand, detectorSections } from "../detectorBand";
import { fastDb, fastGain } from "../../signal/fastMath";

export const expanderParams = {
  threshold: number("Threshold", "dB", -80, 0, -36, "Level under which it turns down."),
  ratio: number("Ratio", ":1", 1, 20, 2, "Fall of the output for 1 dB of fall at the input.", "log"),
  knee: number("Knee", "dB", 0, 24, 6, "Width of the bend around the threshold."),
  range: number("Range", "dB", 0, 90, 24, "It never turns down by more."),
  attack: number("Attack", "s", 0.00005, 0.1, 0.001, "Time to come up to 63 %.", "log"),
  hold: number("Hold", "s", 0, 1, 0.03, "Time for which it stays up."),
  release: number("Release", "s", 0.005, 3, 0.12, "Time to go down to 37 %.", "log"),
  ...detectorBand(5000, 100),
} as const satisfies ParamTable;
export type ExpanderValues = ParamValues<typeof expanderParams>;

/** Falls of the level under which there is nothing left to turn down, dBFS. */
const bottom = 1e-7;

/**
 * How far a level is turned down, dB, positive. Units: all dB.
 * Source  mirror of Giannoulis, Massberg, Reiss, J. Audio Eng. Soc. 60(6), 2012, eq. 4 (soft knee), below the threshold.
 */
export function expandedBy(
  level: number,
  v: Pick<ExpanderValues, "threshold" | "ratio" | "knee" | "range">,
): number {
  const under = v.threshold - level;
  const slope = v.ratio - 1;
  if (2 * under <= -v.knee) return 0;
  const by = 2 * under < v.knee ? (slope * (under + v.knee / 2) ** 2) / (2 * v.knee) : slope * under;
  return Math.min(v.range, by);
}

/**
 * Expander: turns down what lies under a threshold, the further below the more; the gain is smoothed in dB. Channels share one
 * detector, or the key. Latency 0.
 * Source  Giannoulis, Massberg, Reiss 2012, fig. 7c, with the curve turned over; hold and range common practice.
 */
export class Expander implements Processor<ExpanderValues> {
  readonly latency = 0;
  reductionDb = 0;
  private rate = 0;
  private v!: ExpanderValues;
  private filters: Cascade[] = [];
  private heard: Float32Array[] = [];
  private up = 0;
  private down = 0;
  private hold = 0;
  private held = 0;
  private by = 0;

  prepare({ sampleRate, maxFrames }: StreamFormat): void {
    this.rate = sampleRate;
    this.filters = [new Cascade(2), new Cascade(2)];
    this.heard = [new Float32Array(maxFrames), new Float32Array(maxFrames)];
  }
  set(v: ExpanderValues): void {
    this.v = v;
    this.up = Math.exp(-1 / (v.attack * this.rate));
    this.down = Math.exp(-1 / (v.release * this.rate));
    this.hold = Math.round(v.hold * this.rate);
    const sections = detectorSections(v, this.rate);
    for (const filter of this.filters) filter.set(sections);
  }
  reset(): void {
    for (const filter of this.filters) filter.reset();
    this.held = 0;
    this.by = expandedBy(-140, this.v);
  }
  adopt(from: Processor<ExpanderValues>): void {
    if (!(from instanceof Expander)) return;
    this.held = from.held;
    this.by = from.by;
  }
  process(input: Planar, output: Planar, frames: number, { key }: ProcessContext): void {
    const source = key ?? input;
    const two = source.length > 1;
    const [first, second] = [this.heard[0]!, this.heard[two ? 1 : 0]!];
    this.filters[0]!.process(source[0]!, first, frames);
    if (two) this.filters[1]!.process(source[1]!, second, frames);
    let { by, held } = this;
    let deepest = 0;
    for (let i = 0; i < frames; i++) {
      const level = Math.max(Math.abs(first[i]!), Math.abs(second[i]!));
      const wanted = expandedBy(level > bottom ? fastDb(level) : -140, this.v);
      if (wanted <= by) {
        by = wanted + this.up * (by - wanted);
        held = this.hold;
      } else if (held > 0) held--;
      else by = wanted + this.down * (by - wanted);
      if (by < 1e-4) by = 0;
      if (by > deepest) deepest = by;
      const gain = by === 0 ? 1 : fastGain(-by);
      for (let ch = 0; ch < output.length; ch++) output[ch]![i] = input[ch]![i]! * gain;
    }
    this.by = by;
    this.held = held;
    this.reductionDb = deepest;
  }
}
