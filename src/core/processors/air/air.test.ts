import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { levelAt, noise, sine } from "../../testing/signals";
import { air } from ".";

const { latency } = air.create();
/** What is added, in time with the input. */
const added = (values: Record<string, number>, x: Float32Array): Float32Array => {
  const y = run(air, values, x)[0]!;
  return Float32Array.from(x, (v, i) => (y[i + latency] ?? 0) - v);
};
const level = (x: Float32Array, f: number) => levelAt(x.slice(12000, 36000), f);
const db = (x: number) => 20 * Math.log10(x);

describe("air", () => {
  // Two tones a1, a2 through a square: 2 f and the sum lie at a^2/2 and a1 a2 (trigonometric identities).
  test("two tones: doubles and the sum are as the square has them, the difference is gone", () => {
    const [f1, f2, a] = [5000, 6000, 0.01];
    const x = sine(f1, a, 1).map((v, i) => v + a * Math.sin((2 * Math.PI * f2 * i) / 48000));
    const d = 10 ** (6 / 20);
    const z = added({ frequency: 2000, drive: 6, even: 100, amount: 0 }, x);
    const reference = level(sine(f1, 1, 1), f1);
    for (const f of [2 * f1, 2 * f2]) expect(level(z, f) - reference).toBeCloseTo(db((d * a) ** 2 / 2), 0);
    expect(level(z, f1 + f2) - reference).toBeCloseTo(db((d * a) ** 2), 0);
    expect(level(z, f2 - f1) - level(z, f1 + f2)).toBeLessThan(-20);
  });
  // x / sqrt(1 + x^2) = x - x^3/2 + ..., and a^3 sin^3 has its third harmonic at a^3/4.
  test("odd: the third harmonic of a soft tone follows the series", () => {
    const x = sine(5000, 0.05, 1);
    const z = added({ frequency: 2000, drive: 0, even: 0, amount: 0 }, x);
    expect(level(z, 15000) - level(sine(5000, 1, 1), 5000)).toBeCloseTo(db(0.05 ** 3 / 8), 0);
  });
  test("a full-scale tone leaves no alias above -80 dB against what is added", () => {
    const z = added({ frequency: 2000, drive: 12, even: 50, amount: 0 }, sine(5000, 1, 1));
    // Harmonics above 24 kHz would come down to these.
    for (const f of [2000, 3000, 7000, 8000, 13000, 17000, 18000])
      expect(level(z, f) - level(z, 10000)).toBeLessThan(-80);
  });
  test("ten dB softer, the octave is twenty dB softer", () => {
    const octave = (a: number) =>
      level(added({ frequency: 2000, drive: 0, even: 100, amount: 0 }, sine(5000, a, 1)), 10000);
    expect(octave(0.1) - octave(0.1 / Math.sqrt(10))).toBeCloseTo(20, 0);
  });
  test("without an amount the signal passes to the bit", () => {
    const x = noise(4000, 3);
    expect(run(air, { amount: -60 }, x)[0]!.slice(latency)).toEqual(x.slice(0, -latency));
  });
});
