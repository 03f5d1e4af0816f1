import FFT from "fft.js";
import type { Samples } from "./samples";

/** Half spectrum: real and imaginary parts of bins 0..size/2. */
export interface Spectrum {
  readonly re: Float64Array;
  readonly im: Float64Array;
}

/** Power of bins [from, to) of a spectrum; bins that it does not have hold none. */
export function bandPower({ re, im }: Spectrum, from: number, to: number): number {
  let sum = 0;
  const end = Math.min(to, re.length);
  for (let k = from; k < end; k++) sum += re[k]! * re[k]! + im[k]! * im[k]!;
  return sum;
}

const plans = new Map<number, RealFft>();

/**
 * Forward and inverse transform of real signals through the fft.js package.
 * Shape   size: a power of two from 4; spectra hold size/2 + 1 bins. Unnormalised forward, 1/size inverse.
 */
export class RealFft {
  private readonly fft: FFT;
  private readonly complex: Float64Array;
  private readonly half: FFT;
  private readonly halfIn: Float64Array;
  private readonly halfOut: Float64Array;
  private readonly cos: Float64Array;
  private readonly sin: Float64Array;
  private readonly input: Float64Array;

  constructor(readonly size: number) {
    this.fft = new FFT(size);
    this.complex = new Float64Array(2 * size);
    this.half = new FFT(size / 2);
    this.halfIn = new Float64Array(size);
    this.halfOut = new Float64Array(size);
    this.cos = Float64Array.from({ length: size / 2 }, (_, k) => Math.cos((2 * Math.PI * k) / size));
    this.sin = Float64Array.from({ length: size / 2 }, (_, k) => Math.sin((2 * Math.PI * k) / size));
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
    x: Samples | Float64Array,
    from: number,
    length: number,
    out: Spectrum,
    window?: Float64Array,
  ): void {
    const { input } = this;
    input.fill(0);
    const first = Math.max(0, -from);
    const last = Math.min(length, this.size, x.length - from);
    // What lies in memory is read where it lies.
    const here = ArrayBuffer.isView(x);
    const y = here ? x : x.subarray(Math.max(0, from), Math.max(0, from + last));
    const at = here ? from : -first;
    if (window) for (let i = first; i < last; i++) input[i] = y[at + i]! * window[i]!;
    else for (let i = first; i < last; i++) input[i] = y[at + i]!;
    this.fft.realTransform(this.complex, input);
    for (let k = 0; k <= this.size / 2; k++) {
      out.re[k] = this.complex[2 * k]!;
      out.im[k] = this.complex[2 * k + 1]!;
    }
  }

  /**
   * Real signal of a half spectrum, into `out` (size frames), by a complex transform of half the size: even frames are
   * its real, odd ones its imaginary parts. The spectrum is that of a real signal: bins 0 and size/2 are real.
   */
  inverse({ re, im }: Spectrum, out: Float64Array): void {
    const half = this.size / 2;
    const { halfIn, halfOut, cos, sin } = this;
    for (let k = 0; k < half; k++) {
      const dr = 0.5 * (re[k]! - re[half - k]!);
      const di = 0.5 * (im[k]! + im[half - k]!);
      halfIn[2 * k] = re[k]! - dr - (dr * sin[k]! + di * cos[k]!);
      halfIn[2 * k + 1] = im[k]! - di + (dr * cos[k]! - di * sin[k]!);
    }
    this.half.inverseTransform(halfOut, halfIn);
    for (let i = 0; i < this.size; i++) out[i] = halfOut[i]!;
  }
}

/** Smallest power of two not below n. */
export const powerOfTwo = (n: number): number => 2 ** Math.ceil(Math.log2(Math.max(4, n)));

const windows = new Map<number, Float64Array>();
/** Most lengths whose windows are kept: strokes have many lengths, spectra few. */
const windowsMost = 64;

/** Hann window, periodic; the same array for the same length, so nobody's to write to. */
export function hann(length: number): Float64Array {
  const known = windows.get(length);
  if (known) return known;
  if (windows.size >= windowsMost) windows.clear();
  const w = new Float64Array(length);
  windows.set(length, w);
  for (let i = 0; i < length; i++) w[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length);
  return w;
}
