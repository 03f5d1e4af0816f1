import { describe, expect, test } from "@jest/globals";
import vectors from "./biquad.vectors.json";
import {
  Cascade,
  designAllPass,
  designBell,
  designButterworth,
  designShelf,
  filtered,
  responseAt,
  responseDb,
  phaseDegrees,
} from "./biquad";

describe("filters", () => {
  test("Butterworth responses equal scipy.signal", () => {
    for (const { side, order, cutoff, db } of vectors.butterworth) {
      const sections = designButterworth(side as "low" | "high", cutoff, order, vectors.sampleRate);
      vectors.frequencies.forEach((f, i) => {
        if (db[i]! > -140) expect(responseDb(sections, f, vectors.sampleRate)).toBeCloseTo(db[i]!, 4);
      });
    }
  });

  test("filtered noise equals scipy.signal.sosfilt", () => {
    const sections = designButterworth("high", 300, 4, vectors.sampleRate);
    const y = filtered(Float32Array.from(vectors.noise), sections);
    vectors.filtered.forEach((v, i) => expect(Math.abs(y[i]! - v)).toBeLessThan(vectors.absTolerance));
  });

  test("Butterworth lies 3.01 dB down at its corner for every order (handbook)", () => {
    for (let order = 1; order <= 8; order++)
      for (const side of ["low", "high"] as const)
        expect(responseDb(designButterworth(side, 1000, order, 48000), 1000, 48000)).toBeCloseTo(-3.0103, 3);
  });

  // W3C Audio EQ Cookbook: the analogue prototypes, with w the warped frequency over the warped corner.
  const warped = (f: number, f0: number) =>
    Math.tan((Math.PI * f) / 48000) / Math.tan((Math.PI * f0) / 48000);
  test("the bell is the Cookbook's (s^2 + A s/Q + 1) / (s^2 + s/(A Q) + 1)", () => {
    const [f0, gain, q] = [1200, 7, 2];
    const a = Math.pow(10, gain / 40);
    for (const f of [50, 300, 1000, 1200, 3000, 15000]) {
      const w = warped(f, f0);
      const num = (1 - w * w) ** 2 + ((a * w) / q) ** 2;
      const den = (1 - w * w) ** 2 + (w / (a * q)) ** 2;
      expect(responseDb([designBell(f0, gain, q, 48000)], f, 48000)).toBeCloseTo(
        10 * Math.log10(num / den),
        6,
      );
    }
  });
  test("the low shelf is the Cookbook's, half its gain at the corner", () => {
    const sections = [designShelf("low", 500, -12, Math.SQRT1_2, 48000)];
    expect(responseDb(sections, 500, 48000)).toBeCloseTo(-6, 6);
    expect(responseDb(sections, 1, 48000)).toBeCloseTo(-12, 3);
    const a = Math.pow(10, -12 / 40);
    const w = warped(900, 500);
    const middle = (Math.sqrt(a) * w) / Math.SQRT1_2;
    const num = (a - w * w) ** 2 + middle ** 2;
    const den = (1 - a * w * w) ** 2 + middle ** 2;
    expect(responseDb(sections, 900, 48000)).toBeCloseTo(10 * Math.log10((a * a * num) / den), 6);
  });

  test("a long silence after a sound leaves no denormals", () => {
    const cascade = new Cascade(4);
    cascade.set(designButterworth("high", 40, 8, 48000));
    const x = new Float32Array(128);
    x[0] = 1;
    const y = new Float32Array(128);
    for (let b = 0; b < 4000; b++) {
      cascade.process(x, y, 128);
      x[0] = 0;
    }
    expect(y.every((v) => v === 0)).toBe(true);
  });
});

// Audio EQ Cookbook, APF: level 1 at every frequency, and the phase is turned by half a round at the corner.
describe("all-pass", () => {
  test.each([
    [60, 0.5],
    [250, 0.7],
    [3000, 3],
  ])("at %d Hz with q %d", (frequency, q) => {
    const section = designAllPass(frequency, q, 48000);
    for (const f of [20, 100, 250, 1000, 5000, 20000])
      expect(Math.hypot(...Object.values(responseAt(section, f, 48000)))).toBeCloseTo(1, 9);
    const { re, im } = responseAt(section, frequency, 48000);
    expect(re).toBeCloseTo(-1, 6);
    expect(im).toBeCloseTo(0, 6);
  });
  // Any filter handbook: a Butterworth filter of order n turns by 45 degrees times n at its corner.
  test.each([1, 2, 4, 8])("phase of order %d at the corner", (order) => {
    expect(phaseDegrees(designButterworth("low", 1000, order, 48000), 1000, 48000)).toBeCloseTo(
      -45 * order,
      6,
    );
    expect(phaseDegrees(designButterworth("high", 1000, order, 48000), 1000, 48000)).toBeCloseTo(
      45 * order,
      6,
    );
  });
});
