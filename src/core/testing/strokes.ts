import { noise } from "./signals";

// Strokes for tests only.
/** A decaying stroke that repeats at onsets in frames: a low mode and a click, no two alike. */
export function strokes(frames: number, onsets: readonly number[], seed = 1, tune = 190): Float32Array {
  const x = new Float32Array(frames);
  const click = noise(frames, seed, 0.4);
  onsets.forEach((onset, k) => {
    const level = 0.6 + 0.3 * Math.abs(Math.sin(7 * k + seed));
    for (let i = 0; i < 9600 && onset + i < frames; i++)
      x[onset + i]! +=
        level *
        (Math.exp(-i / 2400) * Math.sin((2 * Math.PI * tune * i) / 48000) +
          Math.exp(-i / 150) * click[(onset + i) % frames]!);
  });
  return x;
}
export const everyHalfSecond = (count: number): number[] =>
  Array.from({ length: count }, (_, k) => 12000 + 24000 * k + 37 * (k % 5));
