/**
 * Weights of the errors of the last five samples: the noise of rounding goes from where it is heard most to where it is heard
 * least, made for 44.1 and 48 kHz.
 * Source  Lipshitz, Wannamaker, Vanderkooy, "Minimally audible noise shaping", J. Audio Eng. Soc. 39(11), 1991 (from memory).
 */
export const shapingWeights = [2.033, -2.165, 1.959, -1.59, 0.6149] as const;

/** Largest error that is carried on, in steps: what is clipped must not run away. */
const most = 8;

/** Rounds the samples of one channel to whole steps; its noise is white dither through 1 - sum of w(k) z^-k. */
export class NoiseShaper {
  private readonly errors = new Float64Array(shapingWeights.length);
  private at = 0;

  /** The next sample as a whole number of steps. Units: steps of the format; `dither` triangular, two steps wide. */
  next(value: number, dither: number): number {
    const { errors } = this;
    const count = errors.length;
    let carried = 0;
    for (let k = 0; k < count; k++)
      carried += shapingWeights[k]! * errors[(this.at - 1 - k + 2 * count) % count]!;
    const wanted = value - carried;
    const whole = Math.round(wanted + dither);
    errors[this.at] = Math.max(-most, Math.min(most, whole - wanted));
    this.at = (this.at + 1) % count;
    return whole;
  }
}
