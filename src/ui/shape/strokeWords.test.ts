import { describe, expect, test } from "@jest/globals";
import { processorType } from "../../core/processors";
import type { PictureOf } from "../../core/processor";
import type { StrokeEffect } from "../../core/shape/hitReductions";
import { effectWords, figuresOf } from "./strokeWords";

const effect = (over: Partial<StrokeEffect> = {}): StrokeEffect => ({
  strokes: [100, 200, 300],
  reductionDb: [0, 3.2, 4.1],
  peakBefore: [-12, -8, -6],
  peakAfter: [-12, -9, -9],
  envelopeBefore: [],
  envelopeAfter: [],
  loudThird: { before: [], after: [] },
  softThird: { before: [], after: [] },
  betweenBefore: -60,
  betweenAfter: -58,
  loudnessBefore: { whole: -20, small: -24 },
  loudnessAfter: { whole: -19.5, small: -22 },
  ringBefore: null,
  ringAfter: null,
  ...over,
});
const words = (type: string, e: StrokeEffect) => {
  const t = processorType(type);
  return effectWords(t, t.picture as Extract<PictureOf, { over: "strokes" }>, e);
};

describe("what is said of a processor", () => {
  test("stroke by stroke: the middle and the furthest change, bleed and loudness apart", () => {
    expect(figuresOf(effect())).toEqual({
      reduction: 3.2,
      peaks: -1,
      most: -3,
      louder: 0.5,
      small: 2,
      bleed: 2,
      room: 1.5,
    });
  });
  test("compressors tell the reduction in the middle, limiters how many strokes they touch", () => {
    expect(words("compressor", effect())).toMatch(
      /^median 3\.2 dB of reduction; peaks −1\.0 dB in the middle, −3\.0 at most; loudness \+0\.5 dB; bleed between strokes \+2\.0 dB$/,
    );
    expect(words("limiter", effect())).toMatch(/^2 of 3 strokes touched, 4\.1 dB at most; /);
    expect(words("limiter", effect({ reductionDb: [0, 0.05, 0] }))).toMatch(/^none of 3 strokes touched; /);
  });
  test("colour tells what rounding gives back, when it does", () => {
    expect(words("saturation", effect())).toContain(
      "rounding gives back 1.5 dB of peak at the same loudness",
    );
    expect(words("saturation", effect({ peakAfter: [-12, -8, -6] }))).toMatch(/gives back 0\.5 dB/);
    const plain = effect({ peakAfter: [-11, -7, -5], loudnessAfter: { whole: -19, small: -23 } });
    expect(words("saturation", plain)).not.toContain("gives back");
  });
  test("ring tamers tell how long it rings, also where it is gone", () => {
    expect(words("ringTamer", effect({ ringBefore: 0.82, ringAfter: 0.31 }))).toContain(
      "the ring dies in 0.31 s rather than 0.82 s",
    );
    expect(words("ringTamer", effect({ ringBefore: 0.82 }))).toContain("is gone among the rest");
  });
  test("low harmonics tell what a small speaker gives", () => {
    expect(words("lowHarmonics", effect())).toContain("on a small speaker +2.0 dB");
  });
  test("a drum without main strokes says nothing that is no number", () => {
    const none = effect({ strokes: [], reductionDb: [], peakBefore: [], peakAfter: [] });
    expect(words("compressor", none)).toMatch(/^median 0\.0 dB/);
    expect(words("limiter", none)).toMatch(/^none of 0 strokes/);
  });
});
