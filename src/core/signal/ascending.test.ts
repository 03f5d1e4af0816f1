import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { anyBetween, firstAbove, firstFrom } from "./ascending";

const lists = fc
  .array(fc.integer({ min: 0, max: 20 }), { maxLength: 30 })
  .map((l) => l.sort((a, b) => a - b));
const limits = fc.integer({ min: -1, max: 21 });

describe("ascending numbers", () => {
  test("halving finds what looking at each one finds, doubled numbers and empty lists included", () => {
    fc.assert(
      fc.property(lists, limits, limits, (list, a, b) => {
        const count = (keeps: (v: number) => boolean) => list.filter(keeps).length;
        expect(firstAbove(list, a)).toBe(count((v) => v <= a));
        expect(firstFrom(list, a)).toBe(count((v) => v < a));
        expect(anyBetween(list, a, b)).toBe(list.some((v) => v > a && v < b));
      }),
    );
  });
  test("worked by hand: ends are left out", () => {
    const times = [1, 2, 2, 5];
    expect([firstAbove(times, 2), firstFrom(times, 2), firstAbove(times, 5)]).toEqual([3, 1, 4]);
    expect([anyBetween(times, 2, 5), anyBetween(times, 1.9, 2.1), anyBetween(times, 5, 9)]).toEqual([
      false,
      true,
      false,
    ]);
  });
});
