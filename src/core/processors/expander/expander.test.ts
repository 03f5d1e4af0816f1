import { describe, expect, test } from "@jest/globals";
import { plainContext } from "../../processor";
import { make, rate, run } from "../../testing/runProcessor";
import { noise } from "../../testing/signals";
import { expander } from ".";
import { expandedBy } from "./expander";

const constant = (db: number, seconds: number) => new Float32Array(seconds * rate).fill(10 ** (db / 20));
const db = (v: number) => 20 * Math.log10(Math.abs(v));

describe("expander", () => {
  // The mirror of Giannoulis 2012, eq. 4, worked by hand for T -30, R 3, W 8, range 40.
  test.each([
    [-10, 0],
    [-26, 0], // the knee begins
    [-30, (2 * 4 ** 2) / 16],
    [-34, 2 * 4], // the knee ends
    [-44, 2 * 14],
    [-70, 40], // the range
  ])("static curve: %d dB is turned down by %d dB", (level, wanted) => {
    const values = { threshold: -30, ratio: 3, knee: 8, range: 40 };
    expect(expandedBy(level, values)).toBeCloseTo(wanted, 9);
    const y = run(expander, { ...values, hold: 0, attack: 0.001, release: 0.02 }, constant(level, 0.4))[0]!;
    expect(level - db(y.at(-1)!)).toBeCloseTo(wanted, 2);
  });
  test("attack comes up to 63 % and release goes down to 37 % in their times, behind the hold", () => {
    const values = { threshold: -20, ratio: 20, knee: 0, range: 30, attack: 0.01, hold: 0.05, release: 0.1 };
    const x = constant(-60, 1);
    x.fill(0.5, 0.2 * rate, 0.4 * rate);
    const y = run(expander, values, x)[0]!;
    const by = (seconds: number) => db(x[Math.round(seconds * rate)]! / y[Math.round(seconds * rate)]!);
    expect(by(0.19)).toBeCloseTo(30, 1);
    expect(by(0.21)).toBeCloseTo(30 / Math.E, 1);
    expect(by(0.449)).toBeCloseTo(0, 2);
    expect(by(0.55)).toBeCloseTo(30 * (1 - 1 / Math.E), 1);
  });
  test("opened by a key", () => {
    const p = make(expander, { threshold: -20, ratio: 20, range: 60, hold: 0, attack: 0.0001 });
    const x = noise(48, 1, 0.01);
    const out = [new Float32Array(48)];
    const through = (key: Float32Array | null) => {
      for (let at = 0; at < rate; at += 48)
        p.process([x], out, 48, { ...plainContext(at), key: key && [key] });
      return db(out[0]![40]! / x[40]!);
    };
    expect(through(null)).toBeLessThan(-30);
    expect(through(constant(-3, 0.001))).toBeCloseTo(0, 1);
  });
});
