import { describe, expect, test } from "@jest/globals";
import { measureLoudness } from "../../measure/loudness";
import { filtered, designButterworth } from "../../signal/biquad";
import { run } from "../../testing/runProcessor";
import { levelAt, sine } from "../../testing/signals";
import { lowHarmonics } from ".";

const steady = (x: Float32Array) => x.slice(48000);

describe("low harmonics", () => {
  // The limit of the work: harmonics within 1 dB of what is set, loud or soft.
  test.each([0.5, 0.005])(
    "a tone at the fundamental of level %d gets the harmonics that are set",
    (level) => {
      const x = sine(60, level, 3);
      const set = { second: -6, third: -12, fourth: -18, fifth: -24 };
      const y = run(lowHarmonics, { frequency: 60, ...set }, x)[0]!;
      Object.values(set).forEach((wanted, k) => {
        expect(Math.abs(levelAt(steady(y), 60 * (k + 2)) - levelAt(steady(x), 60) - wanted)).toBeLessThan(
          0.1,
        );
      });
      expect(levelAt(steady(y), 60) - levelAt(steady(x), 60)).toBeCloseTo(0, 1);
    },
  );
  test.each([55, 66])("%d Hz beside a fundamental of 60 still gets them within 1 dB", (f) => {
    const x = sine(f, 0.3, 3);
    const y = run(lowHarmonics, { second: -10, third: -60, fourth: -60 }, x)[0]!;
    expect(Math.abs(levelAt(steady(y), 2 * f) - levelAt(steady(x), f) + 10)).toBeLessThan(1);
  });
  test("the fundamental itself is turned down as far as is set", () => {
    const x = sine(60, 0.5, 3);
    const y = run(lowHarmonics, { fundamental: -12 }, x)[0]!;
    expect(levelAt(steady(y), 60) - levelAt(steady(x), 60)).toBeCloseTo(-12, 1);
  });
  test("what lies far above makes none and passes", () => {
    const x = sine(2000, 0.5, 2);
    const y = run(lowHarmonics, {}, x)[0]!;
    expect(levelAt(steady(y), 4000) - levelAt(steady(x), 2000)).toBeLessThan(-80);
    expect(levelAt(steady(y), 2000) - levelAt(steady(x), 2000)).toBeCloseTo(0, 1);
  });
  // A speaker that ends at 150 Hz (24 dB/oct, common practice); loudness by ITU-R BS.1770-5.
  test("a drum of 60 Hz is heard louder on a speaker that ends at 150 Hz", () => {
    const drum = Float32Array.from({ length: 4 * 48000 }, (_, i) => {
      const t = (i % 24000) / 48000;
      return 0.7 * Math.sin(2 * Math.PI * 60 * t) * Math.exp(-t / 0.12);
    });
    const small = (x: Float32Array) => filtered(x, designButterworth("high", 150, 4, 48000));
    const loudness = (x: Float32Array) => measureLoudness([small(x)], 48000).integrated;
    const y = run(lowHarmonics, {}, drum)[0]!;
    expect(loudness(y) - loudness(drum)).toBeGreaterThan(6);
  });
});
