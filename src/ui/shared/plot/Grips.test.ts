import { expect, test } from "@jest/globals";
import fc from "fast-check";
import { stepped } from "./Grips";

const linear = { label: "", min: -60, max: 0 };
const octaves = { label: "", min: 30, max: 15360, log: true };

test("120 steps go over the whole of an axis, linear or by ratios", () => {
  const over = (axis: typeof octaves | typeof linear) =>
    Array.from({ length: 120 }).reduce<number>((v) => stepped(axis, v, 1), axis.min);
  expect(over(linear)).toBeCloseTo(0, 9);
  expect(over(octaves)).toBeCloseTo(15360, 6);
  expect(stepped(octaves, 240, 1) / 240).toBeCloseTo(512 ** (1 / 120), 9);
});
test("never leaves the axis", () => {
  fc.assert(
    fc.property(
      fc.double({ min: -100, max: 100, noNaN: true }),
      fc.integer({ min: -500, max: 500 }),
      (v, by) => {
        const next = stepped(linear, v, by);
        expect(next).toBeGreaterThanOrEqual(linear.min);
        expect(next).toBeLessThanOrEqual(linear.max);
      },
    ),
  );
});
