import { describe, expect, test } from "@jest/globals";
import { designAllPass, filtered } from "../signal/biquad";
import { delayed } from "../signal/fractionalDelay";
import { noise } from "../testing/signals";
import { asRecorded, bestRotation, pairSpectra, sumByBand, sumGain } from "./bands";

const rate = 48000;
const times = [0.5, 1, 1.5, 2, 2.5, 3];
const x = noise(rate * 4, 3);
const turned = (y: Float32Array) => y.map((v) => -v);

describe("the sum of two mics by band", () => {
  // Energy of a sum over that of its parts: +3.01 dB for equal signals, nothing for unrelated ones, closed form.
  test("equal signals gain 3.01 dB in every band and are alike; turned over, nothing is left", () => {
    for (const row of sumByBand(pairSpectra(x, x, times, rate), asRecorded)) {
      expect(row.gainDb).toBeCloseTo(3.01, 2);
      expect(row.coherence).toBeCloseTo(1, 3);
    }
    const against = pairSpectra(x, turned(x), times, rate);
    for (const row of sumByBand(against, asRecorded)) expect(row.gainDb).toBeLessThan(-60);
    for (const row of sumByBand(against, { ...asRecorded, polarity: -1 }))
      expect(row.gainDb).toBeCloseTo(3.01, 2);
  });
  test("unrelated signals gain nothing", () => {
    const rows = sumByBand(pairSpectra(x, noise(rate * 4, 9), times, rate), asRecorded);
    for (const row of rows.slice(3)) expect(Math.abs(row.gainDb)).toBeLessThan(1.2);
    expect(rows[8]!.coherence).toBeLessThan(0.3);
  });
  test("a delay is made good by its opposite", () => {
    const late = pairSpectra(x, delayed(x, 24), times, rate);
    expect(sumGain(late, asRecorded, 900, 1100)).toBeLessThan(-12); // 24 frames are half a period of 1 kHz
    for (const row of sumByBand(late, { ...asRecorded, delay: -24 })) expect(row.gainDb).toBeGreaterThan(2.8);
  });
});

describe("rotation", () => {
  test("a pair that an all-pass has turned apart is brought together by the same turn of the other", () => {
    const ring = filtered(x, [designAllPass(400, 0.7, rate)]);
    const pair = pairSpectra(ring, x, times, rate);
    const found = bestRotation(pair, asRecorded)!;
    expect(Math.abs(Math.log2(found.frequency / 400))).toBeLessThan(0.3);
    expect(found.q).toBe(0.7);
    const { frequency, q } = found;
    const after = sumByBand(pair, { ...asRecorded, rotation: { frequency, q } });
    for (const row of after) expect(row.gainDb).toBeGreaterThan(2.5);
    expect(found.gainDb).toBeGreaterThan(1);
  });
  test("what the setting promises is what the filters do", () => {
    const second = noise(rate * 4, 12).map((v, i) => 0.5 * v + x[i]!);
    const rotation = { frequency: 300, q: 1.2 };
    const promised = sumByBand(pairSpectra(x, second, times, rate), { polarity: -1, delay: 7.5, rotation });
    const done = turned(delayed(filtered(second, [designAllPass(300, 1.2, rate)]), 7.5));
    const heard = sumByBand(pairSpectra(x, done, times, rate), asRecorded);
    promised.slice(2).forEach((row, i) => expect(row.gainDb).toBeCloseTo(heard[i + 2]!.gainDb, 0));
  });
  test("mics that agree need none", () => {
    expect(bestRotation(pairSpectra(x, x, times, rate), asRecorded)).toBeNull();
  });
});
