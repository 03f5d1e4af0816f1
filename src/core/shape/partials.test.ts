import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { findPartials } from "./partials";

const rate = 48000;
/**
 * Modes of an ideal circular membrane against the lowest: zeros of the Bessel functions J0 to J3 over 2.405 (handbook table:
 * 2.405, 3.832, 5.136, 5.520, 6.380; Fletcher and Rossing, The Physics of Musical Instruments, from memory).
 */
const modes = [2.405, 3.832, 5.136, 6.38].map((zero) => zero / 2.405);
const strokes = Array.from({ length: 8 }, (_, i) => 0.1 + 1.2 * i);
/** Strokes of a membrane over a little noise: each mode with a level, dB, and a T60, s. */
function membrane(fundamental: number, levels: readonly number[], t60: readonly number[]): Float32Array {
  const x = noise(10 * rate, 7, 1e-4);
  for (const t of strokes)
    modes.forEach((ratio, m) => {
      const w = (2 * Math.PI * ratio * fundamental) / rate;
      const decay = Math.log(1000) / (t60[m]! * rate);
      for (let i = 0; i < 1.15 * rate; i++)
        x[Math.round(t * rate) + i]! +=
          0.4 * 10 ** (levels[m]! / 20) * Math.exp(-decay * i) * Math.sin(w * i);
    });
  return x;
}

describe("partials of a drum", () => {
  test.each([82, 118, 205])(
    "the modes of a membrane tuned to %i Hz, with how long they ring",
    (fundamental) => {
      const t60 = [0.9, 0.7, 0.6, 0.5];
      const found = findPartials(membrane(fundamental, [0, -6, -12, -15], t60), strokes, fundamental, rate);
      expect(found).toHaveLength(4);
      found.forEach((p, m) => {
        expect(Math.abs(p.frequency / (modes[m]! * fundamental) - 1)).toBeLessThan(0.01);
        expect(p.ratio).toBeCloseTo(modes[m]!, 1);
        expect(Math.abs(p.t60! / t60[m]! - 1)).toBeLessThan(0.1);
      });
      expect(found[0]!.levelDb).toBe(0);
      expect(found[1]!.levelDb).toBeLessThan(-4);
    },
  );
  test("noise has none, and without strokes nothing is told", () => {
    expect(findPartials(noise(10 * rate, 3, 0.2), strokes, 120, rate)).toEqual([]);
    expect(findPartials(membrane(100, [0, -6, -12, -18], [1, 1, 1, 1]), [], 100, rate)).toEqual([]);
  });
  test("strokes that follow each other closely tell tones, but not how long they ring", () => {
    const x = membrane(110, [0, -6, -12, -18], [0.5, 0.5, 0.5, 0.5]);
    const close = strokes.flatMap((t) => [t, t + 0.42, t + 0.84]);
    const found = findPartials(x, close, 110, rate);
    expect(found.length).toBeGreaterThan(1);
    expect(found.every((p) => p.t60 === null)).toBe(true);
  });
});
