import { describe, expect, test } from "@jest/globals";
import { pairThrough } from "../../testing/runProcessor";
import { impulse, levelAt, noise, sine } from "../../testing/signals";
import { width } from ".";

const energy = (x: Float32Array) => x.reduce((sum, v) => sum + v * v, 0);
const correlation = (a: Float32Array, b: Float32Array) =>
  a.reduce((sum, v, i) => sum + v * b[i]!, 0) / Math.sqrt(energy(a) * energy(b));
const a = noise(96000, 1);
const b = noise(96000, 2);

describe("width and place", () => {
  // Closed form for independent sides of equal energy: mid and side have equal energy, r = (1 - w^2) / (1 + w^2).
  test.each([0, 50, 100, 150, 200])("width %d %%: the correlation of two independent sides", (percent) => {
    const [l, r] = pairThrough(width, { width: percent }, a, b);
    const w = percent / 100;
    expect(correlation(l, r)).toBeCloseTo((1 - w * w) / (1 + w * w), 1);
  });
  test("levels of mid and side reach mid and side only", () => {
    const [l, r] = pairThrough(width, { mid: -6, side: 3 }, a, b);
    for (const i of [10, 500, 90000]) {
      expect(l[i]! + r[i]!).toBeCloseTo(10 ** (-6 / 20) * (a[i]! + b[i]!), 5);
      expect(l[i]! - r[i]!).toBeCloseTo(10 ** (3 / 20) * (a[i]! - b[i]!), 5);
    }
  });
  test("a turn keeps the energy; the whole turn puts the middle on the right alone", () => {
    const [l, r] = pairThrough(width, { rotate: 37 }, a, b);
    expect((energy(l) + energy(r)) / (energy(a) + energy(b))).toBeCloseTo(1, 5);
    const [left, right] = pairThrough(width, { rotate: 100 }, a, a);
    expect(energy(left) / energy(a)).toBeLessThan(1e-10);
    expect(energy(right) / energy(a)).toBeCloseTo(2, 5);
  });
  test("sides swapped", () => {
    const [l, r] = pairThrough(width, { swap: "swapped" }, a, b);
    expect(l[77]).toBeCloseTo(b[77]!, 6);
    expect(r[77]).toBeCloseTo(a[77]!, 6);
  });
  // Linkwitz and Riley 1976: both halves are 6.02 dB down at the crossover; above it the side is whole again.
  test.each([
    [100, -6.02],
    [50, -24.6],
    [1000, 0],
  ])("mono below 100 Hz: the side at %d Hz lies at %d dB", (frequency, wanted) => {
    const x = sine(frequency, 0.5, 2);
    const [l, r] = pairThrough(
      width,
      { monoBelow: 100 },
      x,
      x.map((v) => -v),
    );
    const side = l.map((v, i) => 0.5 * (v - r[i]!)).slice(48000);
    expect(levelAt(side, frequency) - levelAt(x.slice(48000), frequency)).toBeCloseTo(wanted, 1);
  });
  test("mono below keeps mid and side in phase: one side alone stays alone where the side is whole", () => {
    const [, r] = pairThrough(width, { monoBelow: 100 }, sine(2000, 0.5, 1), new Float32Array(48000));
    expect(Math.max(...r.slice(24000).map(Math.abs))).toBeLessThan(0.005);
  });
  test("as it comes: to the bit", () => {
    const [l, r] = pairThrough(width, {}, impulse(500, 20), b.slice(0, 500));
    expect(l).toEqual(impulse(500, 20));
    expect(r).toEqual(b.slice(0, 500));
  });
});
