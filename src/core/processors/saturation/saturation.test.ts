import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { levelAt, sine } from "../../testing/signals";
import { saturation } from ".";

describe("saturation", () => {
  // Measured limits; this table only tightens. The default drive is 6 dB.
  test.each([
    ["soft", 6, "4 times", -80],
    ["rounded", 6, "4 times", -80],
    ["hard", 6, "4 times", -80],
    ["soft", 12, "4 times", -80],
    ["rounded", 12, "4 times", -80],
    ["hard", 12, "4 times", -70],
    ["soft", 6, "4 times, steep", -80],
    ["hard", 12, "4 times, steep", -70],
    ["hard", 6, "8 times", -80],
    ["hard", 12, "8 times", -78],
    ["soft", 6, "2 times", -80],
    ["hard", 6, "2 times", -55],
  ])(
    "%s at %d dB drive, %s: a full-scale 5 kHz sine leaves aliases below %d dB",
    (character, drive, oversampling, limit) => {
      const x = sine(5000, 1, 1);
      const [y] = run(saturation, { character, drive, oversampling, output: 0 }, x);
      const steady = y!.slice(24000 - 9600, 24000); // a whole number of periods and of every alias
      const fundamental = levelAt(steady, 5000);
      // Odd harmonics of 5 kHz above 24 kHz fold to |n 5000 - k 48000|.
      for (let n = 5; n <= 39; n += 2) {
        const folded = Math.abs(n * 5000 - 48000 * Math.round((n * 5000) / 48000));
        if (folded % 10000 === 5000 && folded <= 15000) continue; // lies on a true harmonic
        expect(levelAt(steady, folded) - fundamental).toBeLessThan(limit);
      }
    },
  );
  test("symmetric bends add odd harmonics only, the even setting adds the octave", () => {
    const level = (even: number, n: number) => {
      const y = run(saturation, { drive: 6, even, output: 0 }, sine(500, 0.5, 1))[0]!.slice(-24000);
      return levelAt(y, 500 * n) - levelAt(y, 500);
    };
    expect(level(0, 2)).toBeLessThan(-100);
    expect(level(0, 3)).toBeGreaterThan(-50);
    expect(level(80, 2)).toBeGreaterThan(-40);
  });
  // Series of the rational tanh: x - c x^3 with c = 1/3 - 1/27; a small sine of amplitude a has a third harmonic c a^2/4.
  test("soft follows its series' third harmonic for small signals", () => {
    const a = 0.05;
    const y = run(saturation, { drive: 0, output: 0 }, sine(500, a, 1))[0]!.slice(-24000);
    expect(levelAt(y, 1500) - levelAt(y, 500)).toBeCloseTo(20 * Math.log10(((8 / 27) * a * a) / 4), 1);
  });
  test("a silent input with even harmonics stays silent", () => {
    expect(Math.max(...run(saturation, { even: 100, drive: 20 }, new Float32Array(2048))[0]!)).toBeLessThan(
      1e-9,
    );
  });
});
