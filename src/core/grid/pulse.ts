import type { Hit } from "../song/song";

/** Strength of a pulse in weighted instants, 0..1, and its phase as a time, s. */
export interface Pulse {
  readonly strength: number;
  readonly offset: number;
}

/** How much a stroke says about the beat. */
export const weightOf = (h: Hit): number =>
  h.ghost || h.kind === "grace"
    ? 0.15
    : h.piece === "kick"
      ? 1
      : // Many drummers play the snare late, or early, by habit: it must not draw the grid with it.
        h.piece === "snare"
        ? 0.5
        : h.piece === "hat" || h.piece === "ride"
          ? 0.35
          : 0.6;

/** Pulse at `frequency` Hz: the Fourier sum of the instants. */
export function pulse(times: readonly number[], weights: readonly number[], frequency: number): Pulse {
  let [sumRe, sumIm] = [0, 0];
  for (let i = 0; i < times.length; i++) {
    const angle = 2 * Math.PI * frequency * times[i]!;
    sumRe += Math.cos(angle) * weights[i]!;
    sumIm += Math.sin(angle) * weights[i]!;
  }
  return pulseOf(sumRe, sumIm, sumOf(weights), frequency);
}

const sumOf = (weights: readonly number[]): number => weights.reduce((sum, w) => sum + w, 0);

/** The pulse that a Fourier sum tells. */
const pulseOf = (sumRe: number, sumIm: number, total: number, frequency: number): Pulse => ({
  strength: total > 0 ? Math.hypot(sumRe, sumIm) / total : 0,
  offset: Math.atan2(sumIm, sumRe) / (2 * Math.PI * frequency),
});

/** Pulses at frequencies that rise by equal steps: the instants' phasors are turned on instead of computed anew. */
export class PulseScan {
  private readonly re: Float64Array;
  private readonly im: Float64Array;
  private readonly turnRe: Float64Array;
  private readonly turnIm: Float64Array;
  private readonly total: number;
  private frequency: number;

  constructor(
    times: readonly number[],
    weights: readonly number[],
    first: number,
    private readonly step: number,
  ) {
    this.frequency = first;
    const phasor = (f: number, part: (angle: number) => number) =>
      Float64Array.from(times, (t) => part(2 * Math.PI * f * t));
    this.re = phasor(first, Math.cos).map((v, i) => v * weights[i]!);
    this.im = phasor(first, Math.sin).map((v, i) => v * weights[i]!);
    this.turnRe = phasor(step, Math.cos);
    this.turnIm = phasor(step, Math.sin);
    this.total = sumOf(weights);
  }
  /** The pulse at the next frequency. */
  next(): Pulse {
    const { re, im, turnRe, turnIm } = this;
    let sumRe = 0;
    let sumIm = 0;
    for (let i = 0; i < re.length; i++) {
      const x = re[i]!;
      const y = im[i]!;
      sumRe += x;
      sumIm += y;
      re[i] = x * turnRe[i]! - y * turnIm[i]!;
      im[i] = x * turnIm[i]! + y * turnRe[i]!;
    }
    const found = pulseOf(sumRe, sumIm, this.total, this.frequency);
    this.frequency += this.step;
    return found;
  }
}
