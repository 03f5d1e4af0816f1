/** Taps of the interpolator; half of them lie on either side of the wanted instant. */
export const fractionalTaps = 32;

/** Modified Bessel function of the first kind, order zero. Source  power series, Abramowitz and Stegun 9.6.12. */
export function besselI0(x: number): number {
  let sum = 1;
  let term = 1;
  for (let k = 1; k < 40; k++) {
    term *= (x / (2 * k)) ** 2;
    sum += term;
  }
  return sum;
}

/** Kaiser window at a distance u (-1..1) from its centre. */
export const kaiser = (u: number, beta: number): number =>
  Math.abs(u) >= 1 ? 0 : besselI0(beta * Math.sqrt(1 - u * u)) / besselI0(beta);

/**
 * Taps that read a signal at `fraction` (0..1) of a frame after the tap with index taps/2 - 1.
 * Source  windowed sinc, Laakso et al., IEEE SP Magazine 13(1), 1996; Kaiser window, beta 8.
 */
export function designFractional(fraction: number, taps: Float64Array): void {
  const n = taps.length;
  let sum = 0;
  for (let i = 0; i < n; i++) {
    const t = i - (n / 2 - 1) - fraction;
    const sinc = Math.abs(t) < 1e-9 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
    taps[i] = sinc * kaiser(t / (n / 2), 8);
    sum += taps[i]!;
  }
  for (let i = 0; i < n; i++) taps[i]! /= sum;
}

/** A signal moved later by `frames` (fractional, may be negative), same length; exact copy for whole frames. */
export function delayed(x: Float32Array, frames: number): Float32Array {
  const whole = Math.floor(frames);
  const fraction = frames - whole;
  const y = new Float32Array(x.length);
  const taps = new Float64Array(fractionalTaps);
  if (fraction > 1e-9) designFractional(1 - fraction, taps);
  if (fraction <= 1e-9) {
    if (whole >= 0) y.set(x.subarray(0, Math.max(0, x.length - whole)), Math.min(whole, y.length));
    else y.set(x.subarray(Math.min(-whole, x.length)));
    return y;
  }
  // y(i) = x(i - whole - fraction), which lies 1 - fraction after frame i - whole - 1.
  const offset = -whole - fractionalTaps / 2;
  const from = Math.min(y.length, Math.max(0, -offset));
  const to = Math.max(from, Math.min(y.length, x.length - fractionalTaps - offset));
  for (let i = from; i < to; i++) {
    const base = i + offset;
    let sum = 0;
    for (let t = 0; t < fractionalTaps; t++) sum += taps[t]! * x[base + t]!;
    y[i] = sum;
  }
  const edge = (i: number) => {
    for (let t = 0; t < fractionalTaps; t++) y[i]! += taps[t]! * (x[i + offset + t] ?? 0);
  };
  for (let i = 0; i < from; i++) edge(i);
  for (let i = to; i < y.length; i++) edge(i);
  return y;
}
