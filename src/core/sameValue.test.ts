import { expect, test } from "@jest/globals";
import fc from "fast-check";
import { sameValue } from "./sameValue";

test("what a database gives back with its fields in another order is the same; what says something else is not", () => {
  const turned = (v: unknown): unknown =>
    Array.isArray(v)
      ? v.map(turned)
      : typeof v === "object" && v !== null
        ? Object.fromEntries(
            Object.entries(v)
              .reverse()
              .map(([k, x]) => [k, turned(x)]),
          )
        : v;
  fc.assert(
    fc.property(fc.jsonValue(), (v) => {
      expect(sameValue(v, turned(JSON.parse(JSON.stringify(v))))).toBe(true);
    }),
  );
  expect(sameValue({ a: 1, b: [1, 2] }, { b: [1, 2], a: 1 })).toBe(true);
  expect(sameValue({ a: 1 }, { a: 1, b: null })).toBe(false);
  expect(sameValue([1, 2], [2, 1])).toBe(false);
  expect(sameValue({ 0: 1 }, [1])).toBe(false);
  expect(sameValue({ a: undefined }, {})).toBe(true);
});
