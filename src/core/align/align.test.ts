import { describe, expect, test } from "@jest/globals";
import { delayed } from "../signal/fractionalDelay";
import { noise, sine } from "../testing/signals";
import { everyHalfSecond, strokes } from "../testing/strokes";
import { estimateDelay } from "./delays";
import { averageStroke, lowEndCurve, lowEndGain } from "./evidence";
import { pairEvidence } from "./pairEvidence";

const frames = 48000 * 11;
const onsets = everyHalfSecond(20);
const main = strokes(frames, onsets);
const mixed = (x: Float32Array, other: Float32Array, gain: number) => x.map((v, i) => v + gain * other[i]!);

// Knapp and Carter 1976: the estimate is unbiased; the truth here is how the second signal was made.
describe("estimateDelay", () => {
  test.each([
    [46.4, 1],
    [46.4, -1],
    [-5.7, -1],
    [120, 1],
  ])("finds %d frames and polarity %d to a tenth of a frame", (delay, polarity) => {
    const second = delayed(main, delay).map((v) => 0.5 * polarity * v);
    const found = estimateDelay(main, second, onsets, { from: -0.006, to: 0.008 }, 48000)!;
    expect(found.polarity).toBe(polarity);
    expect(Math.abs(found.delay - delay)).toBeLessThan(0.1);
    expect(found.hits).toBe(20);
  });
  test("stays within half a frame under noise of its own in each mic and bleed of another drum", () => {
    const bleed = strokes(
      frames,
      everyHalfSecond(20).map((t) => t + 7000),
      9,
      90,
    );
    const a = mixed(mixed(main, bleed, 0.3), noise(frames, 21), 0.02);
    const b = mixed(mixed(delayed(main, 31.3), delayed(bleed, -40), 0.3), noise(frames, 22), 0.02).map(
      (v) => -v,
    );
    const found = estimateDelay(a, b, onsets, { from: -0.006, to: 0.008 }, 48000)!;
    expect(found.polarity).toBe(-1);
    expect(Math.abs(found.delay - 31.3)).toBeLessThan(0.5);
  });
  test("says nothing with a single stroke, and is unsure between unrelated signals", () => {
    expect(estimateDelay(main, main, [12000], { from: -0.006, to: 0.008 }, 48000)).toBeNull();
    const unrelated = estimateDelay(main, noise(frames, 5), onsets, { from: -0.006, to: 0.008 }, 48000);
    const related = estimateDelay(main, delayed(main, 20), onsets, { from: -0.006, to: 0.008 }, 48000);
    expect(unrelated!.confidence).toBeLessThan(0.6);
    expect(related!.confidence).toBeGreaterThan(0.8);
  });
});

// Issue 11: the click of the beater may arrive the other way round in a second mic, the drum's body does not.
describe("a second kick mic whose click is upside down", () => {
  const body = Float32Array.from({ length: frames }, () => 0);
  const click = Float32Array.from({ length: frames }, () => 0);
  onsets.forEach((at, k) => {
    const hiss = noise(400, 70 + k, 0.6);
    for (let i = 0; i < 9600; i++) {
      body[at + i]! += 0.7 * Math.exp(-i / 3000) * Math.sin((2 * Math.PI * 62 * i) / 48000);
      if (i < 400) click[at + i]! += hiss[i]! * Math.exp(-i / 90);
    }
  });
  const inner = body.map((v, i) => v + click[i]!);
  const outer = delayed(
    body.map((v, i) => v - 0.6 * click[i]!),
    50,
  );
  test("is taken for turned over by its attack alone, and right by the low end", () => {
    const range = { from: -0.006, to: 0.008 };
    expect(estimateDelay(inner, outer, onsets, range, 48000)!.polarity).toBe(-1);
    const found = estimateDelay(inner, outer, onsets, range, 48000, 0, 1)!;
    expect(found.polarity).toBe(1);
    const times = onsets.map((o) => o / 48000);
    const gain = lowEndGain(inner, outer, times, { polarity: 1, delay: -found.delay }, 48000);
    const wrong = lowEndGain(inner, outer, times, { polarity: -1, delay: -found.delay }, 48000);
    expect(gain - wrong).toBeGreaterThan(6);
  });
  test("a mic that hears hardly any attack is put where the low ends agree best", () => {
    const dull = delayed(body, 37);
    const found = estimateDelay(inner, dull, onsets, { from: -0.006, to: 0.008 }, 48000, 0, 1)!;
    expect(found.polarity).toBe(1);
    expect(Math.abs(found.delay - 37)).toBeLessThan(6);
  });
});

describe("low end of a sum", () => {
  // Two equal signals add to +6.02 dB, opposite ones cancel: closed form.
  const tone = sine(100, 0.5, 4);
  const times = [0.5, 1, 1.5, 2, 2.5];
  test("turning an opposite mic over brings back everything", () => {
    const opposite = tone.map((v) => -0.5 * v);
    const gain = lowEndGain(tone, opposite, times, { polarity: -1, delay: 0 }, 48000);
    expect(gain).toBeCloseTo(20 * Math.log10(1.5 / 0.5), 1);
  });
  test("the curve of two equal tones is |2 cos(pi f d)| over one, and mirrored when turned over", () => {
    const cut = times.map((t) => tone.slice(Math.round(t * 48000), Math.round(t * 48000) + 9600));
    const { delays, normal, inverted } = lowEndCurve(cut, cut, 240, 60, 48000);
    delays.forEach((d, i) => {
      const angle = (Math.PI * 100 * d) / 48000;
      if (Math.abs(Math.cos(angle)) > 0.2)
        expect(normal[i]).toBeCloseTo(20 * Math.log10(2 * Math.abs(Math.cos(angle))), 0);
      if (Math.abs(Math.sin(angle)) > 0.2)
        expect(inverted[i]).toBeCloseTo(20 * Math.log10(2 * Math.abs(Math.sin(angle))), 0);
    });
  });
});

test("the average of equal strokes has no spread, of opposite ones no mean", () => {
  const x = noise(100);
  expect(Math.max(...averageStroke([x, x]).deviation)).toBeLessThan(1e-3);
  expect(Math.max(...averageStroke([x, x.map((v) => -v)]).mean.map(Math.abs))).toBeLessThan(1e-6);
});
test("pair evidence is made over the strokes that are there, and peaks at one", () => {
  const e = pairEvidence(
    main,
    delayed(main, 20),
    onsets.map((o) => o / 48000),
    48000,
  );
  expect(e.strokes).toBe(20);
  expect(Math.max(...e.main.map(Math.abs))).toBeCloseTo(1, 5);
  const best = e.curve.delays[e.curve.normal.indexOf(Math.max(...e.curve.normal))]!;
  expect(Math.abs(best + 20)).toBeLessThanOrEqual(6);
});
