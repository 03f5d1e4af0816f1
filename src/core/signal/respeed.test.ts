import { describe, expect, test } from "@jest/globals";
import { noise, sine } from "../testing/signals";
import { respeed, respeeded } from "./respeed";

describe("another speed", () => {
  // A sine read faster by ppm millionths is a sine of a frequency higher by as much: closed form.
  test.each([
    [30, 1000],
    [-120, 7000],
    [4, 12000],
  ])("%d ppm at %d Hz within -80 dB", (ppm, frequency) => {
    const y = respeed(sine(frequency, 0.5, 2), ppm);
    expect(y.length).toBe(Math.round(96000 / (1 + ppm * 1e-6)));
    let worst = 0;
    for (let i = 100; i < y.length - 100; i++)
      worst = Math.max(
        worst,
        Math.abs(y[i]! - 0.5 * Math.sin((2 * Math.PI * frequency * i * (1 + ppm * 1e-6)) / 48000)),
      );
    expect(20 * Math.log10(worst / 0.5)).toBeLessThan(-80);
  });
  test("read a stretch at a time it is the same to the bit, also at its ends", () => {
    const x = noise(30_000, 3, 0.4);
    for (const ppm of [-900, 40]) {
      const [parts, whole] = [respeeded(x, ppm), respeed(x, ppm)];
      expect(parts.length).toBe(whole.length);
      for (const [from, to] of [
        [0, 1],
        [0, 777],
        [777, 20_000],
        [20_000, 99_999],
        [whole.length - 1, 99_999],
      ] as const)
        expect(parts.subarray(from, to)).toEqual(whole.slice(from, to));
      expect(parts.subarray(50_000)).toHaveLength(0);
    }
  });
  test("no drift gives the signal back, and there and back is where it began", () => {
    const x = sine(500, 0.5, 1);
    expect(Math.max(...respeed(x, 0).map((v, i) => Math.abs(v - x[i]!)))).toBeLessThan(1e-6);
    const back = respeed(respeed(x, 50), -50);
    for (let i = 1000; i < 40000; i += 97) expect(Math.abs(back[i]! - x[i]!)).toBeLessThan(1e-3);
  });
  test("what cannot be a clock's error is refused", () => {
    expect(() => respeed(new Float32Array(10), 5000)).toThrow("5000 ppm");
  });
});
