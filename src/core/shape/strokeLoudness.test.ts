import { expect, test } from "@jest/globals";
import { noise, sine } from "../testing/signals";
import { silenceDb } from "../signal/level";
import { strokeLevel, strokeLoudness } from "./strokeLoudness";

const rate = 48000;

// ITU-R BS.1770-5, annex 1: a full-scale sine at 997 Hz reads -3.01 LKFS, 0.691 dB under its weighted power.
test("a sine of 997 Hz is 3.01 dB under full scale, the offset of 0.691 dB added back", () => {
  const { whole, small } = strokeLoudness(sine(997, 1, 2), [rate / 2, rate], rate);
  expect(whole).toBeCloseTo(-3.01 + 0.691, 1);
  expect(small).toBeCloseTo(whole, 1);
});
// Butterworth of fourth order: 10 log10(1 + (150 / 60)^8).
test("what lies low is lost on a small speaker as its filter says", () => {
  const { whole, small } = strokeLoudness(sine(60, 0.5, 2), [rate / 2, rate], rate);
  expect(whole - small).toBeCloseTo(10 * Math.log10(1 + (150 / 60) ** 8), 1);
});
test("only the strokes count, and without any there is no loudness", () => {
  const x = sine(997, 1, 2);
  x.fill(0, rate / 2 + 0.2 * rate);
  expect(strokeLoudness(x, [rate / 2], rate).whole).toBeCloseTo(-3.01 + 0.691, 1);
  expect(strokeLoudness(x, [], rate).whole).toBe(silenceDb);
});
test("the level alone is that of both, to the bit, at the edges of a recording too", () => {
  const x = noise(2 * rate, 3);
  const onsets = [-20, 10.4, rate, 2 * rate - 100, 2 * rate + 5];
  expect(strokeLevel(x, onsets, rate)).toBe(strokeLoudness(x, onsets, rate).whole);
  expect(strokeLevel(x, [], rate)).toBe(silenceDb);
});
