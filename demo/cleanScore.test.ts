import { describe, expect, test } from "@jest/globals";
import { noise } from "../src/core/testing/signals";
import { cleanScore, siSdr } from "./cleanScore";

const rate = 48000;
/** A drum that sounds for 0.1 s every half second. */
const own = new Float32Array(5 * rate);
const strokes = Array.from({ length: 9 }, (_, i) => Math.round((0.25 + 0.5 * i) * rate));
strokes.forEach((f, i) => own.set(noise(4800, i + 1), f));
const bleed = noise(own.length, 77, 0.05);
const raw = own.map((v, i) => v + bleed[i]!);

describe("scoring what was cleaned", () => {
  // Source: Le Roux et al., ICASSP 2019: the ratio does not depend on the estimate's scale.
  test("the ratio is that of the energies, at any scale", () => {
    const energy = (x: Float32Array) => x.reduce((s, v) => s + v * v, 0);
    const wanted = 10 * Math.log10(energy(own) / energy(bleed));
    expect(siSdr(own, raw)).toBeCloseTo(wanted, 1);
    expect(
      siSdr(
        own,
        raw.map((v) => -0.1 * v),
      ),
    ).toBeCloseTo(siSdr(own, raw), 4);
  });
  test("nothing done: nothing gained", () => {
    const score = cleanScore(own, raw, raw, strokes, [], rate);
    expect(score.siSdrGainDb).toBeCloseTo(0, 6);
    expect(score.bleedDb).toBeCloseTo(0, 6);
    expect(score.clicks).toBe(0);
  });
  test("bleed halved between strokes is 6 dB less; a lost ghost and a click are counted", () => {
    const cleaned = raw.map((v, i) => (own[i] === 0 ? 0.5 * v : v));
    cleaned.fill(0, strokes[3], strokes[3]! + 4800);
    cleaned[Math.round(2.05 * rate)] = 0.9;
    const score = cleanScore(own, raw, cleaned, strokes.slice(0, 3), strokes.slice(3, 5), rate);
    expect(score.bleedDb).toBeLessThan(-5);
    expect(score.bleedDb).toBeGreaterThan(-7);
    expect([score.ghostsKept, score.ghosts]).toEqual([1, 2]);
    expect(score.clicks).toBeGreaterThan(0);
    for (const db of score.strokesDb) expect(Math.abs(db)).toBeLessThan(0.5);
  });
});
