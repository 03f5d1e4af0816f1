import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { levelAt, noise, sine } from "../../testing/signals";
import { responseDb } from "../../signal/biquad";
import { bendSoft } from "../saturation/saturation";
import { harmonics } from ".";
import { emphasis } from "./characters";

const { latency } = harmonics.create();
const steady = (x: Float32Array) => x.slice(24000);
const db = (x: number) => 20 * Math.log10(x);
/** The n-th harmonic of a tone against the tone that went in, dB. */
const harmonic = (values: Record<string, string | number>, n: number, f = 500, a = 0.05) => {
  const x = sine(f, a, 1);
  return levelAt(steady(run(harmonics, values, x)[0]!), n * f) - levelAt(steady(x), f);
};

describe("harmonics of a band", () => {
  // Third harmonic of x - c x^3 for a soft sine of amplitude a: c a^2 / 4. c from each bend's own series at slope 1.
  test.each([
    ["soft", 1 / 3 - 1 / 27],
    ["rounded", 1 / 2],
    ["hard", (10 / 8) * (8 / 15) ** 3],
    ["folded", 1 / 6],
  ])("%s: the third harmonic of a soft tone is that of its series", (character, c) => {
    expect(harmonic({ character, drive: 0 }, 3)).toBeCloseTo(db((c * 0.05 ** 2) / 4), 0);
    expect(harmonic({ character, drive: 0, odd: 50 }, 3)).toBeCloseTo(db((c * 0.05 ** 2) / 8), 0);
    expect(harmonic({ character, drive: 0 }, 2)).toBeLessThan(-120);
  });
  // x bend(x) / 2 is x^2 / 2 for a soft sound: a second harmonic of a / 4 against a.
  test("even ones are set apart from the odd ones", () => {
    expect(harmonic({ drive: 0, odd: 0, even: 100 }, 2)).toBeCloseTo(db(0.05 / 4), 0);
    expect(harmonic({ drive: 0, odd: 0, even: 200 }, 2)).toBeCloseTo(db(0.05 / 2), 0);
    expect(harmonic({ drive: 0, odd: 0, even: 100 }, 3)).toBeLessThan(-110);
  });
  test("what lies outside the band makes none and passes in phase", () => {
    const x = sine(6000, 0.5, 1);
    const y = run(harmonics, { high: 300, drive: 12, even: 50 }, x)[0]!;
    expect(levelAt(steady(y), 18000) - levelAt(steady(x), 6000)).toBeLessThan(-100);
    for (let i = 30000; i < 30050; i++) expect(Math.abs(y[i + latency]! - x[i]!)).toBeLessThan(0.002);
  });
  test("with nothing to add, with a band or without, everything passes to the bit", () => {
    const x = noise(6000, 3);
    const y = run(harmonics, { odd: 0, even: 0, low: 400, high: 3000, drive: 20 }, x)[0]!;
    expect(y.slice(latency)).toEqual(x.slice(0, -latency));
  });
  test.each(["soft", "rounded", "hard", "one-sided", "low-heavy", "tape-like", "folded"])(
    "%s at the default drive: aliases of a full-scale 5 kHz sine below -80 dB",
    (character) => {
      const y = run(harmonics, { character }, sine(5000, 1, 1))[0]!.slice(24000 - 9600, 24000);
      for (let n = 5; n <= 40; n++) {
        const folded = Math.abs(n * 5000 - 48000 * Math.round((n * 5000) / 48000));
        if (folded % 5000 === 0) continue;
        expect(levelAt(y, folded) - levelAt(y, 5000)).toBeLessThan(-80);
      }
    },
  );
  test("drive that follows the strokes is there at the attack, or in the tail", () => {
    const x = sine(1000, 0.05, 1);
    const hit = Float64Array.from([4800]);
    const third = (follows: string, from: number) => {
      const y = run(harmonics, { drive: 0, follows, followDb: 12, followTime: 0.05 }, x, hit)[0]!;
      return levelAt(y.slice(from, from + 480), 3000);
    };
    // The third harmonic against the tone rises by twice the drive.
    expect(third("attacks", 5000) - third("attacks", 40000)).toBeGreaterThan(18);
    expect(third("tails", 40000) - third("tails", 5000)).toBeGreaterThan(12);
    expect(Math.abs(third("attacks", 40000) - third("nothing", 40000))).toBeLessThan(0.5);
  });
  test("matched, it comes out as loud as it went in", () => {
    const x = noise(96000, 5, 0.5);
    const power = (y: Float32Array) => 10 * Math.log10(y.slice(60000).reduce((s, v) => s + v * v, 0));
    const y = run(harmonics, { drive: 18, level: "matched" }, x)[0]!;
    const plain = run(harmonics, { drive: 18 }, x)[0]!;
    expect(Math.abs(power(y) - power(x))).toBeLessThan(0.5);
    expect(Math.abs(power(plain) - power(x))).toBeGreaterThan(2);
  });
  // Fourier integral of the bend over one turn of the tone, by 4096 points.
  test.each([2, 3, 4])("one-sided: harmonic %d of a loud tone is that of its Fourier integral", (n) => {
    const [a, drive] = [0.4, 10 ** (12 / 20)];
    const points = 4096;
    let [re, im] = [0, 0];
    for (let k = 0; k < points; k++) {
      const t = (2 * Math.PI * k) / points;
      const x = drive * a * Math.sin(t);
      const y = (x > 0 ? bendSoft(x) : x) / drive;
      re += (2 / points) * y * Math.cos(n * t);
      im += (2 / points) * y * Math.sin(n * t);
    }
    expect(harmonic({ character: "one-sided", drive: 12 }, n, 500, a)).toBeCloseTo(
      db(Math.hypot(re, im) / a),
      0,
    );
  });
  // The third harmonic goes with the third power of what comes into the bend, and what was lifted is taken back at three times the frequency.
  test("low-heavy, or with the tone before it down: lows are bent more than highs, by three times the lift", () => {
    const lift = (f: number) => responseDb(emphasis("low-heavy", 0, 48000).before, f, 48000);
    const wanted = 3 * lift(60) - lift(180) - (3 * lift(2000) - lift(6000));
    const third = (f: number, values: object) => harmonic({ drive: 0, ...values }, 3, f, 0.02);
    expect(third(60, { character: "low-heavy" }) - third(2000, { character: "low-heavy" })).toBeCloseTo(
      wanted,
      0,
    );
    expect(wanted).toBeGreaterThan(12);
    expect(third(100, { toneBefore: -9 }) - third(5000, { toneBefore: -9 })).toBeGreaterThan(9);
    expect(third(5000, { toneBefore: 9 }) - third(100, { toneBefore: 9 })).toBeGreaterThan(9);
  });
  test("tape-like: highs go the louder they are, the low end stands a little out", () => {
    const lost = (f: number, a: number) => {
      const x = sine(f, a, 1);
      return (
        levelAt(steady(run(harmonics, { character: "tape-like", drive: 6 }, x)[0]!), f) -
        levelAt(steady(x), f)
      );
    };
    expect(lost(10000, 0.5)).toBeLessThan(lost(1000, 0.5) - 2);
    expect(lost(10000, 0.01)).toBeCloseTo(0, 1);
    expect(lost(70, 0.01)).toBeCloseTo(1.5, 1);
  });
});
