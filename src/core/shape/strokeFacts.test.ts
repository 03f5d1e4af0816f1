import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { measureLowEnd } from "./measureLowEnd";
import { measureRing } from "./measureRing";

const rate = 48000;

/** Strokes of a burst and a partial that rings; closed form: exp(-ln 1000 t / T60). */
function strokesWith(
  ring: { f: number; T60: number },
  times: readonly number[],
  seconds: number,
): Float32Array {
  const x = new Float32Array(seconds * rate);
  const burst = noise(rate, 7, 0.6);
  const fall = (t: number, T60: number) => Math.exp((-Math.log(1000) * t) / T60);
  for (const [k, time] of times.entries()) {
    const from = Math.round(time * rate);
    const level = k % 2 ? 1 : 0.3;
    for (let i = 0; i < 1.6 * rate && from + i < x.length; i++) {
      const t = i / rate;
      x[from + i]! +=
        level *
        (0.2 * Math.sin(2 * Math.PI * ring.f * t) * fall(t, ring.T60) +
          (i < rate ? burst[i]! * fall(t, 0.1) : 0));
    }
  }
  return x;
}

describe("ring over strokes", () => {
  const times = [0.1, 1.8, 3.5, 5.2, 6.9, 8.6];
  test.each([0.6, 1.2])(
    "a ring of %d s is read to a tenth, and is nearly what is wanted when tamed",
    (T60) => {
      const x = strokesWith({ f: 3120, T60 }, times, 10);
      const ring = measureRing(x, times, 3120, rate)!;
      expect(ring.strokes).toBe(6);
      expect(Math.abs(ring.found / T60 - 1)).toBeLessThan(0.1);
      expect(Math.abs(ring.tamed / ring.wanted - 1)).toBeLessThan(0.3);
    },
  );
  test("strokes that follow one another too closely tell nothing", () => {
    const close = Array.from({ length: 20 }, (_, i) => 0.1 + 0.3 * i);
    expect(measureRing(strokesWith({ f: 3120, T60: 1 }, close, 7), close, 3120, rate)).toBeNull();
  });
  test("a ring that sinks into noise before it has fallen by 25 dB is not told", () => {
    const hiss = noise(10 * rate, 9, 0.5);
    const x = strokesWith({ f: 3120, T60: 3 }, times, 10).map((v, i) => v + hiss[i]!);
    expect(measureRing(x, times, 3120, rate)).toBeNull();
  });
});

describe("low end over strokes", () => {
  /** Strokes whose low part has these levels, dB, over an upper part that is always the same. */
  const strokes = (levels: readonly number[]) =>
    levels.map((db) =>
      Float32Array.from({ length: 0.25 * rate }, (_, i) => {
        const t = i / rate;
        const low = 0.5 * 10 ** (db / 20) * Math.sin(2 * Math.PI * 55 * t) * Math.exp(-t / 0.1);
        return low + 0.1 * Math.sin(2 * Math.PI * 900 * t) * Math.exp(-t / 0.05);
      }),
    );
  const levels = Array.from({ length: 21 }, (_, i) => -0.6 * i);
  test("strokes of unlike low ends: by how much, and what is left when they are held", () => {
    const low = measureLowEnd(strokes(levels), 55, rate)!;
    // From the 10th to the 90th of a hundred of 12 dB, evenly spread.
    expect(low.spread).toBeCloseTo(9.6, 0);
    // The filter lets a tenth of the low part through, 24 dB per octave.
    expect(low.spreadAbove).toBeLessThan(3);
    // 4:1 above the softest tenth.
    expect(low.held).toBeLessThan(low.spread - 3);
    expect(low.below).toBe(99);
  });
  test("alike strokes have no spread, and fewer than eight tell nothing", () => {
    expect(measureLowEnd(strokes(levels.map(() => -3)), 55, rate)!.spread).toBeLessThan(0.01);
    expect(measureLowEnd(strokes(levels.slice(0, 7)), 55, rate)).toBeNull();
  });
});
