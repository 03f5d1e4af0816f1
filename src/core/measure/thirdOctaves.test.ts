import { describe, expect, test } from "@jest/globals";
import { noise, sine } from "../testing/signals";
import { thirdOctaveLevels, thirdOctaves } from "./thirdOctaves";

const rate = 48000;

test("middles are those of the standard", () => {
  // IEC 61260-1:2014, table of nominal frequencies: 31.5, 63, 125, 1000, 8000, 16000 Hz, exact by 10^(n/10).
  const exact = [31.623, 63.096, 125.893, 1000, 7943.28, 15848.93];
  for (const f of exact) expect(thirdOctaves.some((t) => Math.abs(t / f - 1) < 1e-4)).toBe(true);
  expect(thirdOctaves).toHaveLength(28);
});

describe("levels", () => {
  test.each([rate, 44100, 96000])(
    "a full-scale sine of 1 kHz at %d Hz is -3.01 dB in its band and far less two away",
    (sampleRate) => {
      const levels = thirdOctaveLevels([sine(1000, 1, 4, sampleRate)], sampleRate);
      const at = thirdOctaves.indexOf(1000);
      expect(levels[at]).toBeCloseTo(-3.01, 1);
      expect(levels[at + 2]!).toBeLessThan(-60);
      expect(levels[at - 2]!).toBeLessThan(-60);
    },
  );
  test("white noise rises by 1 dB from band to band: each is 10^(1/10) as wide as the one below", () => {
    const levels = thirdOctaveLevels([noise(60 * rate, 5)], rate);
    const from = thirdOctaves.findIndex((f) => f > 90);
    const slope = (levels.at(-1)! - levels[from]!) / (levels.length - 1 - from);
    expect(slope).toBeCloseTo(1, 1);
  });
  test("two equal channels hold twice the power of one", () => {
    const x = noise(10 * rate, 6);
    const [one, two] = [thirdOctaveLevels([x], rate), thirdOctaveLevels([x, x], rate)];
    two.forEach((level, i) => expect(level - one[i]!).toBeCloseTo(3.0103, 3));
  });
  test("bands together hold what lies between their outer edges", () => {
    const x = noise(20 * rate, 7);
    const sum = thirdOctaveLevels([x], rate).reduce((all, level) => all + 10 ** (level / 10), 0);
    const power = x.reduce((all, v) => all + v * v, 0) / x.length;
    // 28 bands from 28.2 Hz to 17.8 kHz of 24 kHz.
    expect(10 * Math.log10(sum / power)).toBeCloseTo(10 * Math.log10((17783 - 28.2) / 24000), 1);
  });
});
