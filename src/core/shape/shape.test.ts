import { describe, expect, test } from "@jest/globals";
import { newProcessor } from "../song/create";
import { bestThreshold, countGate } from "../clean/decide";
import { bleedTimes, hitSpectra } from "../clean/spectra";
import { compressedLevel } from "../processors/compressor/compressor";
import { median } from "../signal/level";
import type { Hit } from "../song/song";
import { noise, sine } from "../testing/signals";
import { everyHalfSecond, strokes } from "../testing/strokes";
import { fitThreshold } from "./fitThreshold";
import { chainBefore, strokeEffect } from "./hitReductions";
import { averageSpectrum, findRing, refinePeak, strongest } from "../measure/spectrum";
import { wantedOf } from "./flavour";

const frames = 48000 * 9;
const onsets = everyHalfSecond(16);
const x = strokes(frames, onsets);
const snippets = onsets.map((o) => x.subarray(o - 240, o + 7200));

describe("spectrum of strokes", () => {
  test("finds a fundamental and a ring that were put in", () => {
    const ringing = onsets.map((o) =>
      x.slice(o, o + 14400).map((v, i) => v + 0.05 * Math.sin((2 * Math.PI * 3120 * i) / 48000)),
    );
    const curve = averageSpectrum(ringing, 48000);
    expect(Math.abs(strongest(curve, 120, 320).frequency / 190 - 1)).toBeLessThan(0.06);
    const ring = findRing(curve, 1000, 6000);
    expect(Math.abs(ring.frequency / 3120 - 1)).toBeLessThan(0.06);
    expect(ring.standsOutDb).toBeGreaterThan(9);
    expect(refinePeak(ringing, ring.frequency, 48000)).toBeCloseTo(3120, 0);
  });
  test("a steady tone is read to a tenth of a Hz", () => {
    expect(refinePeak([sine(187.3, 0.5, 0.4)], 190, 48000)).toBeCloseTo(187.3, 0);
  });
  test("at strokes is louder than between them, and the bleed's times are no strokes of the drum", () => {
    const hits: Hit[] = [
      ...onsets.map((o) => ({
        piece: "snare" as const,
        time: o / 48000,
        levelDb: -6,
        ghost: false,
        kind: "stroke" as const,
        sure: 1,
      })),
      ...onsets.map((o) => ({
        piece: "hat" as const,
        time: o / 48000 + 0.25,
        levelDb: -20,
        ghost: false,
        kind: "stroke" as const,
        sure: 1,
      })),
    ];
    expect(bleedTimes(hits, "snare")).toHaveLength(16);
    const hiss = noise(frames, 3, 0.001);
    const bleeding = x.map((v, i) => v + hiss[i]!);
    const { atHits, between, strokes: n } = hitSpectra(bleeding, ["snare"], hits, 0, 48000);
    expect(n).toBe(16);
    expect(median(atHits.levels) - median(between.levels)).toBeGreaterThan(20);
  });
});

describe("compressor fitted to strokes", () => {
  test.each(["kick", "snare", "floor"] as const)(
    "%s: the wished reduction is met within half a dB",
    (piece) => {
      const { wishedDb, ...values } = wantedOf("modern", piece).compressor;
      const fitted = fitThreshold(snippets, values, wishedDb, 48000);
      expect(Math.abs(fitted.reductionDb - wishedDb)).toBeLessThan(0.6);
      expect(Number.isInteger(2 * fitted.threshold)).toBe(true);
    },
  );
  test("the effect on every stroke: reduction, peaks and bleed of a static compression agree with its curve", () => {
    // A tone that is compressed for its whole length: the paper's static curve holds at its end.
    const tone = sine(500, 0.5, 4);
    const state = newProcessor("m", "compressor", true, {
      threshold: -20,
      ratio: 4,
      knee: 0,
      attack: 0.0005,
      release: 3,
      makeup: 0,
    });
    const at = [48000.37, 96000.81]; // strokes seldom begin in whole frames
    const e = strokeEffect(state, [tone], at, Float64Array.from(at), 48000);
    const peak = 20 * Math.log10(0.5);
    const reduced = peak - compressedLevel(peak, -20, 4, 0);
    for (const db of e.reductionDb) expect(db).toBeCloseTo(reduced, 0);
    expect(e.peakBefore[0]).toBeCloseTo(peak, 1);
    expect(e.peakAfter[0]! - e.peakBefore[0]!).toBeCloseTo(-reduced, 0);
    expect(e.envelopeAfter[50]! - e.envelopeBefore[50]!).toBeCloseTo(-reduced, 0);
    expect(e.betweenAfter - e.betweenBefore).toBeCloseTo(-reduced, 0);
  });
  test("loud and soft strokes apart: a third each, and what does not hang on the level does the same to both", () => {
    const at = Array.from({ length: 9 }, (_, i) => 4800 + 24000 * i);
    const heard = new Float32Array(240000);
    at.forEach((o, i) => heard.set(sine(200, [0.02, 0.1, 0.5][i % 3]!, 0.2), o));
    const gain = strokeEffect(
      newProcessor("m", "transient", true, { output: -5 }),
      [heard],
      at,
      Float64Array.from(at),
      48000,
    );
    const loudest = ({ before }: { before: number[] }) => Math.max(...before);
    expect(loudest(gain.loudThird) - loudest(gain.softThird)).toBeCloseTo(20 * Math.log10(25), 1);
    for (const third of [gain.loudThird, gain.softThird])
      expect(third.after[50]! - third.before[50]!).toBeCloseTo(-5, 2);
  });
  test("an unknown processor is refused", () => {
    expect(() => chainBefore([], "nothing")).toThrow(RangeError);
  });
});

describe("gate threshold", () => {
  const levels = { hits: [-8, -10, -9], ghosts: [-28, -27], bleed: [-35, -34, -40, -33] };
  test("counts what passes", () => {
    expect(countGate(levels, -30)).toEqual({
      hits: 3,
      hitsPassed: 3,
      ghosts: 2,
      ghostsPassed: 2,
      bleed: 4,
      falseOpens: 0,
    });
    expect(countGate(levels, -20)).toMatchObject({ hitsPassed: 3, ghostsPassed: 0, falseOpens: 0 });
    expect(countGate(levels, -50)).toMatchObject({ falseOpens: 4 });
  });
  test("the best threshold parts strokes and ghosts from bleed when that can be done", () => {
    const t = bestThreshold(levels);
    expect(t).toBeGreaterThan(-33);
    expect(t).toBeLessThan(-28);
  });
  test("main strokes are never given up for a few false opens", () => {
    const t = bestThreshold({ hits: [-20, -21], ghosts: [], bleed: [-15, -16, -14, -40] });
    expect(t).toBeLessThanOrEqual(-21);
  });
});
