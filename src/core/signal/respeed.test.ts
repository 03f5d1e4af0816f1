import { describe, expect, test } from "@jest/globals";
import { sine } from "../testing/signals";
import { respeed } from "./respeed";

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
