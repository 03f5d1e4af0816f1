import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { gainToDb, peakOf } from "../signal/level";
import { noise, sine } from "../testing/signals";
import type { Piece } from "../song/song";
import { describeFaults, findFaults } from "./faults";

const rate = 48000;
const bursts = (level: number, clip = Infinity): Float32Array =>
  sine(90, 1, 4).map((v, i) => {
    const inBurst = i % 24000;
    const y = level * v * Math.exp(-inBurst / 1500);
    return Math.max(-clip, Math.min(clip, y));
  });
const said = (x: Float32Array, piece: Piece = "snare") =>
  describeFaults(findFaults([x], rate), gainToDb(peakOf(x)), piece);

describe("faults of a recording", () => {
  test("tops that are cut flat are found with where", () => {
    const { clips } = findFaults([bursts(0.9, 0.5)], rate);
    expect(clips.count).toBeGreaterThan(3);
    expect(clips.times[0]).toBeLessThan(0.05);
    expect(said(bursts(0.9, 0.5))[0]).toMatch(/^clipped \d+ times, first at 0\.0/);
  });
  test("loud but whole waves, also at full scale, are not clipped", () => {
    expect(findFaults([bursts(1)], rate).clips.count).toBe(0);
    expect(findFaults([noise(rate, 4, 0.99)], rate).clips.count).toBe(0);
    expect(said(bursts(0.5))).toEqual([]);
  });
  // White noise of amplitude a between -a and a has an RMS of a / sqrt(3): closed form.
  test("the level of the noise is told in dBFS RMS", () => {
    const amplitude = 0.01;
    const { noiseDb } = findFaults([noise(2 * rate, 5, amplitude)], rate);
    expect(noiseDb).toBeCloseTo(20 * Math.log10(amplitude / Math.sqrt(3)), 0);
    const hiss = noise(4 * rate, 6, 0.01);
    const noisy = bursts(0.5).map((v, i) => v + hiss[i]!);
    expect(said(noisy)[0]).toMatch(/noise of −4\d dBFS/);
    // Music that is no drum sounds all the time.
    expect(said(noisy, "context")).toEqual([]);
  });
  test("a constant offset is told", () => {
    expect(said(bursts(0.5).map((v) => v + 0.02)).join()).toMatch(/constant offset of 2\.\d %/);
  });
});

test("cut tops are those that a look at every sample finds, wherever windows begin", () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1000 }),
      fc.array(fc.tuple(fc.integer({ min: 0, max: 9990 }), fc.integer({ min: 1, max: 40 }), fc.boolean()), {
        maxLength: 30,
      }),
      (seed, tops) => {
        const x = noise(10_000, seed, 0.2);
        for (const [at, frames, up] of tops) x.fill(up ? 0.9 : -0.9, at, at + frames);
        const flats = ([1, -1] as const).flatMap((sign) => {
          const extreme = x.reduce((most, v) => Math.max(most, sign * v), 0);
          const found: number[] = [];
          for (let i = 0; i < x.length; i++) {
            const from = i;
            while (i < x.length && sign * x[i]! >= extreme * (1 - 1e-4)) i++;
            if (i - from >= 5) found.push(from);
          }
          return found;
        });
        const { clips } = findFaults([x], 8000);
        // Less than three are waves; those within 50 ms are one place.
        const sorted = flats.length < 3 ? [] : flats.sort((a, b) => a - b);
        const places = sorted.filter((f, i) => i === 0 || f / 8000 - sorted[i - 1]! / 8000 > 0.05);
        expect(clips.count).toBe(places.length);
        expect(clips.times).toEqual(places.slice(0, 8).map((f) => f / 8000));
      },
    ),
  );
});
