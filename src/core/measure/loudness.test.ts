import { describe, expect, test } from "@jest/globals";
import { sine } from "../testing/signals";
import { designKWeighting } from "./kWeighting";
import { measureLoudness } from "./loudness";
import { correlation, measureAudio } from "./measureAudio";
import { truePeak } from "./truePeak";
import { responseDb } from "../signal/biquad";

const gain = (db: number) => Math.pow(10, db / 20);
/** Stereo 1 kHz sine in steps of [dBFS, seconds]. */
function tones(steps: readonly (readonly [number, number])[], rate = 48000): Float32Array[] {
  const parts = steps.map(([db, s]) => sine(1000, gain(db), s, rate));
  const x = new Float32Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    x.set(p, at);
    at += p.length;
  }
  return [x, x];
}

// EBU Tech 3341, table 1: minimum requirements, synthesised as described there; tolerance 0.1 LU.
describe("EBU Tech 3341", () => {
  const cases: [string, [number, number][], number][] = [
    ["case 1: -23 dBFS for 20 s", [[-23, 20]], -23],
    ["case 2: -33 dBFS for 20 s", [[-33, 20]], -33],
    [
      "case 3: relative gate",
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
      -23,
    ],
    [
      "case 4: absolute and relative gate",
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
      -23,
    ],
    [
      "case 5: -26, -20, -26",
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
      -23,
    ],
  ];
  test.each(cases)("%s", (_, steps, wanted) => {
    expect(Math.abs(measureLoudness(tones(steps), 48000).integrated - wanted)).toBeLessThanOrEqual(0.1);
  });
  test("case 1 at 44.1 and 96 kHz", () => {
    for (const rate of [44100, 96000])
      expect(Math.abs(measureLoudness(tones([[-23, 20]], rate), rate).integrated + 23)).toBeLessThanOrEqual(
        0.1,
      );
  });
  test("case 9 and 12: short-term and momentary maximum of a steady tone", () => {
    const { shortTermMax, momentaryMax } = measureLoudness(tones([[-23, 20]]), 48000);
    expect(Math.abs(shortTermMax + 23)).toBeLessThanOrEqual(0.1);
    expect(Math.abs(momentaryMax + 23)).toBeLessThanOrEqual(0.1);
  });
  // Cases 15 to 18: sines at a quarter and a third of the rate between the samples; tolerance +0.2/-0.4 dB.
  test.each([
    ["case 15: fs/4, 0 degrees, 0.5", 12000, 0, 0.5, -6],
    ["case 16: fs/4, 45 degrees, 0.5", 12000, 45, 0.5, -6],
    ["case 17: fs/6, 60 degrees, 0.5", 8000, 60, 0.5, -6],
    ["case 18: fs/8, 67.5 degrees, 0.5", 6000, 67.5, 0.5, -6],
    ["case 19: fs/4, 45 degrees, 1.41", 12000, 45, 1.41, 3],
  ])("%s", (_, frequency, degrees, level, wanted) => {
    const x = sine(frequency, level, 0.5, 48000, (degrees * Math.PI) / 180);
    // Fades, as the standard's files have them: a hard start would overshoot.
    for (let i = 0; i < 2400; i++) {
      x[i]! *= i / 2400;
      x[x.length - 1 - i]! *= i / 2400;
    }
    const db = 20 * Math.log10(truePeak(x));
    expect(db).toBeLessThanOrEqual(wanted + 0.2);
    expect(db).toBeGreaterThanOrEqual(wanted - 0.4);
  });
});

// EBU Tech 3342, table 1; tolerance 1 LU.
describe("EBU Tech 3342", () => {
  test.each([
    [
      "case 1",
      [
        [-20, 20],
        [-30, 20],
      ],
      10,
    ],
    [
      "case 2",
      [
        [-20, 20],
        [-15, 20],
      ],
      5,
    ],
    [
      "case 3",
      [
        [-40, 20],
        [-20, 20],
      ],
      20,
    ],
    [
      "case 4",
      [
        [-50, 20],
        [-35, 20],
        [-20, 20],
        [-35, 20],
        [-50, 20],
      ],
      15,
    ],
  ] as [string, [number, number][], number][])("%s", (_, steps, wanted) => {
    expect(Math.abs(measureLoudness(tones(steps), 48000).range - wanted)).toBeLessThanOrEqual(1);
  });
});

describe("measures", () => {
  // BS.1770-5, annex 1, tables 1 and 2: 997 Hz at 0 dBFS in one channel reads -3.01 LKFS.
  test("K-weighting is 0.691 dB at 997 Hz", () => {
    for (const rate of [44100, 48000, 96000])
      expect(responseDb(designKWeighting(rate), 997, rate)).toBeCloseTo(0.691, 1);
  });
  test("a full-scale sine is 0 dBFS, its crest 3.01 dB (AES17)", () => {
    const m = measureAudio([sine(997, 1, 2)], 48000);
    expect(m.samplePeakDb).toBeCloseTo(0, 2);
    expect(m.crestDb).toBeCloseTo(3.01, 1);
    expect(Math.abs(m.integrated + 3.01)).toBeLessThan(0.1);
  });
  test("correlation is 1, 0 and -1 for equal, unrelated and opposite signals", () => {
    const a = sine(500, 0.5, 1);
    const b = sine(500, 0.5, 1, 48000, Math.PI / 2);
    expect(correlation(a, a)).toBeCloseTo(1, 6);
    expect(correlation(a, b)).toBeCloseTo(0, 3);
    expect(
      correlation(
        a,
        a.map((v) => -v),
      ),
    ).toBeCloseTo(-1, 6);
  });
  test("runs at full scale count as clipped", () => {
    const x = sine(100, 0.5, 0.1);
    x.fill(1, 100, 110);
    expect(measureAudio([x], 48000).clippedSamples).toBe(10);
  });
});
