import FFT from "fft.js";

/** Half spectrum: real and imaginary parts of bins 0..size/2. */
export interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

const plans = new Map<number, RealFft>();

/**
 * Forward and inverse transform of real signals through the fft.js package.
 * Shape   size: a power of two from 4; spectra hold size/2 + 1 bins. Unnormalised forward, 1/size inverse.
 */
export class RealFft {
  private readonly fft: FFT;
  private readonly complex: Float64Array;
  private readonly work: Float64Array;
  private readonly input: Float64Array;

  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.complex = new Float64Array(2 * size);
    this.work = new Float64Array(2 * size);
    this.input = new Float64Array(size);
  }

  /** Plan for a size, shared by all callers on this thread. */
  static of(size: number): RealFft {
    let plan = plans.get(size);
    if (!plan) plans.set(size, (plan = new RealFft(size)));
    return plan;
  }

  spectrum(): Spectrum {
    return { re: new Float64Array(this.size / 2 + 1), im: new Float64Array(this.size / 2 + 1) };
  }

  /** Transforms x[from, from + length), times `window` when given; frames outside x and beyond `length` are zero. */
  forward(
    x: Float32Array | Float64Array,
    from: number,
    length: number,
    out: Spectrum,
    window?: Float64Array,
  ): void {
    const { input } = this;
    input.fill(0);
    const n = Math.min(length, this.size);
    for (let i = 0; i < n; i++) {
      const at = from + i;
      if (at >= 0 && at < x.length) input[i] = window ? x[at]! * window[i]! : x[at]!;
    }
    this.fft.realTransform(this.complex, input);
    for (let k = 0; k <= this.size / 2; k++) {
      out.re[k] = this.complex[2 * k]!;
      out.im[k] = this.complex[2 * k + 1]!;
    }
  }

  /** Real signal of a half spectrum, into `out` (size frames). */
  inverse(spectrum: Spectrum, out: Float64Array): void {
    const half = this.size / 2;
    for (let k = 0; k <= half; k++) {
      this.complex[2 * k] = spectrum.re[k]!;
      this.complex[2 * k + 1] = spectrum.im[k]!;
    }
    for (let k = 1; k < half; k++) {
      this.complex[2 * (this.size - k)] = spectrum.re[k]!;
      this.complex[2 * (this.size - k) + 1] = -spectrum.im[k]!;
    }
    this.fft.inverseTransform(this.work, this.complex);
    for (let i = 0; i < this.size; i++) out[i] = this.work[2 * i]!;
  }
}

/** Smallest power of two not below n. */
export const powerOfTwo = (n: number): number => 2 ** Math.ceil(Math.log2(Math.max(4, n)));

/** Hann window, periodic. */
export function hann(length: number): Float64Array {
  const w = new Float64Array(length);
  for (let i = 0; i < length; i++) w[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length);
  return w;
}
