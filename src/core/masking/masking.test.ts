import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { designBell, filtered } from "../signal/biquad";
import { noise } from "../testing/signals";
import { bandCentres, erbAt, erbNumber, excitation } from "./excitation";
import { kept, keptAt, keptOver, turnedRound, type Heard } from "./masking";
import { changesOf, depthFor, depthNeeded, mostDepth, proposeMove } from "./moves";

const rate = 48000;
const flat = (db: number): number[] => bandCentres.map(() => db);
const hump = (middle: number, db: number): number[] =>
  bandCentres.map((f) => db - 4 * Math.abs(erbNumber(f) - erbNumber(middle)));
const tone = (f: number, level = 0.5): Float32Array =>
  Float32Array.from({ length: 9600 }, (_, i) => level * Math.sin((2 * Math.PI * f * i) / rate));

describe("excitation", () => {
  // Glasberg and Moore 1990, from the formulas' own worked figures (from memory): 132.6 Hz wide at 1 kHz, number 15.6.
  test("bandwidths and numbers of hearing", () => {
    expect(erbAt(1000)).toBeCloseTo(132.64, 2);
    expect(erbNumber(1000)).toBeCloseTo(15.62, 2);
    expect(bandCentres[0]).toBeCloseTo(30, 6);
    expect(erbNumber(bandCentres[9]!) - erbNumber(bandCentres[8]!)).toBeCloseTo(0.5, 9);
  });
  test.each([60, 250, 1000, 6000])(
    "a tone of %i Hz excites its own band most, and as much as it is loud",
    (f) => {
      const e = excitation([tone(f)], 0, rate);
      const top = e.reduce((best, v, b) => (v > e[best]! ? b : best), 0);
      expect(Math.abs(erbNumber(bandCentres[top]!) - erbNumber(f))).toBeLessThanOrEqual(0.5);
      expect(e[top]! - excitation([tone(f, 0.05)], 0, rate)[top]!).toBeCloseTo(20, 1);
    },
  );
  // The filter falls to (1 + pg) e^-pg: with p = 30.16 (1 kHz) at g = 0.3 that is -29.3 dB; the window's own skirts come to it.
  test("a tone of 1.3 kHz excites the band of 1 kHz by 29 dB less", () => {
    const near = bandCentres.reduce(
      (best, f, b) => (Math.abs(f - 1000) < Math.abs(bandCentres[best]! - 1000) ? b : best),
      0,
    );
    const fc = bandCentres[near]!;
    const pg = ((4 * fc) / erbAt(fc)) * (1300 / fc - 1);
    const expected = 10 * Math.log10((1 + pg) * Math.exp(-pg));
    const own = excitation([tone(fc)], 0, rate)[near]!;
    expect(excitation([tone(1300)], 0, rate)[near]! - own).toBeGreaterThan(expected - 4);
    expect(excitation([tone(1300)], 0, rate)[near]! - own).toBeLessThan(expected + 4);
  });
  test("both sides of a pair add up, silence is nothing, and what lies behind the end too", () => {
    const x = tone(200);
    expect(excitation([x, x], 0, rate)[20]! - excitation([x], 0, rate)[20]!).toBeCloseTo(3.01, 2);
    expect(Math.max(...excitation([new Float32Array(9600)], 0, rate))).toBe(-200);
    expect(Math.max(...excitation([x], 9600, rate))).toBe(-200);
  });
});

describe("what is kept", () => {
  // The formula at three places where it can be said by hand: its threshold, equal excitations, and far apart.
  test("at 4 dB under another nothing, beside an equal a third, beside nothing all", () => {
    expect(kept(-20 + 10 * Math.log10(0.4), -20)).toBeCloseTo(0, 9);
    expect(kept(-20, -20)).toBeCloseTo(2 ** 0.2 - 1.4 ** 0.2 * 0.4 ** 0.3, 9);
    expect(kept(-20, -20)).toBeCloseTo(0.336, 3);
    expect(kept(-20, -37)).toBeGreaterThan(0.85);
    expect(kept(-20, -200)).toBeCloseTo(1, 6);
    expect(kept(-60, 0)).toBe(0);
  });
  test("lies between nothing and all, and grows as the other comes down", () => {
    fc.assert(
      fc.property(
        fc.double({ min: -90, max: 0, noNaN: true }),
        fc.double({ min: -90, max: 0, noNaN: true }),
        (a, b) => {
          expect(kept(a, b)).toBeGreaterThanOrEqual(0);
          expect(kept(a, b)).toBeLessThanOrEqual(1);
          expect(kept(a, b - 3)).toBeGreaterThanOrEqual(kept(a, b));
        },
      ),
    );
  });
  test("counts bands by their share of the loudness, and none 40 dB under the strongest", () => {
    const h: Heard = { time: 0, of: hump(80, -20), by: flat(-200) };
    const { shares, whole } = keptAt(h);
    expect(shares.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    expect(shares.filter((_, b) => h.of[b]! < -60).every((s) => s === 0)).toBe(true);
    expect(whole).toBeGreaterThan(0.999);
  });
  test("the other way round the louder keeps more", () => {
    const heard = [0, 1, 2].map((time): Heard => ({ time, of: flat(-30), by: flat(-20) }));
    expect(keptOver(turnedRound(heard)).whole).toBeGreaterThan(keptOver(heard).whole + 0.3);
  });
});

describe("moves", () => {
  const heard = [0, 1, 2, 3].map((time): Heard => ({ time, of: hump(70, -20), by: hump(110, -18) }));
  test("a mirrored move is proposed where both lie, and more is kept after it", () => {
    const move = proposeMove(heard, rate)!;
    expect(move.frequency).toBeGreaterThan(50);
    expect(move.frequency).toBeLessThan(250);
    expect(move.lift).toBe(-move.cut / 2);
    expect(keptOver(heard, changesOf(move, rate)).whole).toBeGreaterThan(keptOver(heard).whole + 0.02);
  });
  test("and where it is fewer than half of the strokes that are covered", () => {
    const some = heard
      .map((h, i) => (i < 2 ? h : { ...h, by: flat(-120) }))
      .concat({ time: 4, of: hump(70, -20), by: flat(-120) });
    const move = proposeMove(some, rate)!;
    expect(keptOver(some.slice(0, 2), changesOf(move, rate)).whole).toBeGreaterThan(
      keptOver(some.slice(0, 2)).whole + 0.02,
    );
  });
  test("nothing is proposed where nothing is covered", () => {
    expect(proposeMove([{ time: 0, of: flat(-20), by: flat(-120) }], rate)).toBeNull();
  });
  test("what a move is said to do is what its EQ does to the excitation, within a dB in its band", () => {
    const move = { frequency: 300, q: 1.4, cut: -6, lift: 0 };
    const x = noise(9600, 3, 0.3);
    const y = filtered(x, [designBell(300, -6, 1.4, rate)]);
    const [before, after] = [excitation([x], 0, rate), excitation([y], 0, rate)];
    const change = changesOf(move, rate);
    bandCentres.forEach((f, b) => {
      if (f > 150 && f < 600) expect(Math.abs(after[b]! - before[b]! - change.by(b))).toBeLessThan(1);
    });
  });
  test("the depth that is needed gives what is wanted, and half a dB less does not", () => {
    const one: Heard = { time: 0, of: flat(-20), by: flat(-22) };
    const depth = depthNeeded(one, 0.6);
    const at = (d: number) => keptAt(one, { of: () => 0, by: () => -d }).whole;
    expect(at(depth)).toBeGreaterThanOrEqual(0.6);
    expect(at(depth - 0.5)).toBeLessThan(0.6);
    expect(depthNeeded({ time: 0, of: flat(-60), by: flat(-10) }, 0.9)).toBe(mostDepth);
  });
  test("a depth that is enough at nine of ten strokes", () => {
    expect(depthFor([0, 1, 2, 3, 4, 5, 6, 7, 8, 15])).toBe(15);
    expect(depthFor([...new Array<number>(19).fill(3), 15])).toBe(3);
    expect(depthFor([])).toBe(0);
  });
});
