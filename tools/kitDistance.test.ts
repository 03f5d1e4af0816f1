import { expect, test } from "@jest/globals";
import { designShelf, filtered } from "../src/core/signal/biquad";
import { noise } from "../src/core/testing/signals";
import { kitDistance } from "./kitDistance";

const rate = 48000;
/** Strokes of noise every half second that die away. */
const strokes = (seed: number, every = 0.5): Float32Array =>
  noise(4 * rate, seed).map((v, i) => v * Math.exp(-((i / rate) % every) / 0.04));
const kit = strokes(1);
const bleed = strokes(2, 0.35);
const leaked = (level: number): Float32Array => kit.map((v, i) => v + level * bleed[i]!);

test("how loud a kit is and how bright plays no part", () => {
  expect(kitDistance([kit], [kit], rate)).toBe(0);
  expect(kitDistance([kit], [kit.map((v) => v / 4)], rate)).toBeLessThan(0.01);
  const bright = filtered(kit, [designShelf("high", 4000, 6, Math.SQRT1_2, rate)]);
  expect(kitDistance([kit], [bright], rate)).toBeLessThan(0.5);
});

test("bleed makes it larger, more of it more, and so does a gate that cuts tails", () => {
  const [little, much] = [0.02, 0.3].map((level) => kitDistance([kit], [leaked(level)], rate));
  expect(little).toBeGreaterThan(0.05);
  expect(much).toBeGreaterThan(little! + 2);
  const cut = kit.map((v, i) => ((i / rate) % 0.5 > 0.05 ? 0 : v));
  expect(kitDistance([kit], [cut], rate)).toBeGreaterThan(10);
});

test("one side that differs counts half", () => {
  const other = leaked(0.3);
  const one = kitDistance([kit, kit], [kit, other], rate);
  expect(one).toBeCloseTo(kitDistance([kit], [other], rate) / 2, 6);
});
