import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { openRegions } from "./openRegions";

describe("where a gate is open", () => {
  test("strokes near each other make one region, the song's end cuts the last", () => {
    expect(openRegions([1, 1.3, 5, 9.8], 0.2, 0.2, 10)).toEqual([
      { from: 1, to: 1.7 },
      { from: 5, to: 5.4 },
      { from: 9.8, to: 10 },
    ]);
    expect(openRegions([], 1, 1, 10)).toEqual([]);
  });
  test("any strokes: regions ascend without touching, hold every stroke, and are no longer than the strokes make them", () => {
    const list = fc.array(fc.double({ min: 0, max: 99, noNaN: true }), { maxLength: 60 });
    fc.assert(
      fc.property(list, fc.double({ min: 0.01, max: 2, noNaN: true }), (strokes, hold) => {
        const regions = openRegions(strokes, hold, 0.1, 100);
        regions.forEach((r, i) => {
          expect(r.to).toBeGreaterThan(r.from);
          if (i > 0) expect(r.from).toBeGreaterThan(regions[i - 1]!.to);
        });
        for (const t of strokes) expect(regions.some((r) => t >= r.from && t <= r.to)).toBe(true);
        const open = regions.reduce((s, r) => s + r.to - r.from, 0);
        expect(open).toBeLessThanOrEqual(strokes.length * (hold + 0.1) + 1e-9);
      }),
    );
  });
});
