import { randomSource } from "../signal/random";

// Signals for tests only.
export const sine = (
  frequency: number,
  level: number,
  seconds: number,
  rate = 48000,
  phase = 0,
): Float32Array =>
  Float32Array.from(
    { length: Math.round(seconds * rate) },
    (_, i) => level * Math.sin((2 * Math.PI * frequency * i) / rate + phase),
  );
export const noise = (frames: number, seed = 3, level = 0.5): Float32Array => {
  const random = randomSource(seed);
  return Float32Array.from({ length: frames }, () => level * (2 * random() - 1));
};
export const impulse = (frames: number, at = 0, level = 1): Float32Array => {
  const x = new Float32Array(frames);
  x[at] = level;
  return x;
};
export const largestDifference = (a: ArrayLike<number>, b: ArrayLike<number>): number => {
  let most = 0;
  for (let i = 0; i < Math.max(a.length, b.length); i++)
    most = Math.max(most, Math.abs((a[i] ?? 0) - (b[i] ?? 0)));
  return most;
};
/** Magnitude in dB at a frequency, by correlation with a complex sine over the whole signal. */
export function levelAt(x: Float32Array, frequency: number, rate = 48000): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < x.length; i++) {
    const w = (2 * Math.PI * frequency * i) / rate;
    re += x[i]! * Math.cos(w);
    im += x[i]! * Math.sin(w);
  }
  return 20 * Math.log10(Math.hypot(re, im) + 1e-30);
}
