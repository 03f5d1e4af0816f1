import { describe, expect, test } from "@jest/globals";
import { cascadeOf } from "../signal/biquad";
import { noise } from "../testing/signals";
import { designKWeighting } from "./kWeighting";
import { StretchSums, stretchSums } from "./stretchSums";

const rate = 48000;

describe("sums over stretches", () => {
  test("energy behind two sections is that of a cascade whose output is kept in 32 bits, to the bit", () => {
    const x = noise(4801, 3, 0.7);
    const sections = designKWeighting(rate);
    const cascade = cascadeOf(sections);
    const sums = new StretchSums(2000);
    sums.weigh(sections);
    for (const [from, to] of [
      [0, 2000],
      [2000, 2001],
      [2001, 2001],
      [2001, 4001],
      [4001, 4801],
    ] as const) {
      const y = new Float32Array(to - from);
      cascade.process(x.subarray(from, to), y, to - from);
      expect(sums.weighted(x.subarray(from, to))).toBe(y.reduce((sum, v) => sum + v * v, 0));
    }
  });
  test("sections that are taken anew are at rest", () => {
    const x = noise(500, 5);
    const sums = new StretchSums(500);
    const energies = [1, 2].map(() => {
      sums.weigh(designKWeighting(rate));
      return sums.weighted(x);
    });
    expect(energies[0]).toBe(energies[1]);
    expect(sums.weighted(x)).not.toBe(energies[0]);
  });
  test("a walk tells what a loop over the frames tells, to the bit", () => {
    const x = noise(1237, 4, 0.3);
    const plain = { sum: 0, square: 0, highest: 0, lowest: 0 };
    for (const v of x) {
      plain.sum += v;
      plain.square += v * v;
      plain.highest = Math.max(plain.highest, v);
      plain.lowest = Math.min(plain.lowest, v);
    }
    expect(stretchSums(2400).walk(x)).toEqual(plain);
    expect(stretchSums(2400)).toBe(stretchSums(2400));
  });
  test("what lies on one side of zero alone reaches to no other, and an empty stretch is nothing", () => {
    const sums = stretchSums(16);
    expect(sums.walk(Float32Array.of(0.5, 0.25))).toEqual({
      sum: 0.75,
      square: 0.3125,
      highest: 0.5,
      lowest: 0,
    });
    expect(sums.walk(Float32Array.of(-0.5))).toEqual({ sum: -0.5, square: 0.25, highest: 0, lowest: -0.5 });
    expect(sums.walk(new Float32Array(0))).toEqual({ sum: 0, square: 0, highest: 0, lowest: 0 });
  });
});
