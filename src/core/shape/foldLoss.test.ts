import { describe, expect, test } from "@jest/globals";
import { noise, sine } from "../testing/signals";
import { foldedBelow, foldLoss } from "./foldLoss";

const rate = 48000;
const onsets = Array.from({ length: 20 }, (_, i) => 4800 + 14400 * i);
const [a, b] = [noise(300000, 3), noise(300000, 8)];
const mean = (values: readonly number[]) => values.reduce((s, v) => s + v / values.length, 0);
const loss = (l: Float32Array, r: Float32Array) => foldLoss([l, r], onsets, rate);

describe("what folding costs", () => {
  test("equal sides nothing, opposite ones all, one side alone 3.01 dB, unrelated ones 3.01 dB", () => {
    for (const db of loss(a, a).lossDb) expect(db).toBeCloseTo(0, 3);
    for (const db of loss(
      a,
      a.map((v) => -v),
    ).lossDb)
      expect(db).toBe(-40);
    for (const db of loss(a, new Float32Array(a.length)).lossDb) expect(db).toBeCloseTo(-3.01, 1);
    expect(mean(loss(a, b).lossDb.slice(40))).toBeCloseTo(-3.01, 0);
  });
  test("a side that comes late loses most where it is half a period late, as (1 + cos 2 pi f t) / 2 says", () => {
    const late = 24; // 0.5 ms: turned over at 1 kHz
    const delayed = new Float32Array(a.length);
    delayed.set(a.subarray(0, a.length - late), late);
    const { frequencies, lossDb } = loss(a, delayed);
    const at = (hz: number) => lossDb[frequencies.findIndex((f) => f >= hz)]!;
    const closed = (hz: number) => 10 * Math.log10((1 + Math.cos((2 * Math.PI * hz * late) / rate)) / 2);
    for (const hz of [120, 240, 480]) expect(Math.abs(at(hz) - closed(hz))).toBeLessThan(0.5);
    expect(at(990)).toBeLessThan(-12);
  });
  test("below a frequency: by the power that lies there", () => {
    const low = sine(80, 0.5, 6.25);
    const high = sine(2000, 0.5, 6.25);
    const measured = loss(
      low.map((v, i) => v + high[i]!),
      low.map((v, i) => -v + high[i]!),
    );
    expect(foldedBelow(measured, 300)).toBeLessThan(-15);
    expect(foldedBelow(measured, 18000)).toBeCloseTo(-3.01, 0);
    expect(foldedBelow(loss(new Float32Array(9000), new Float32Array(9000)), 100)).toBe(0);
  });
});
