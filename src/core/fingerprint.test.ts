import { expect, test } from "@jest/globals";
import { fingerprint } from "./fingerprint";

test("equal values have one fingerprint, whatever the order of their fields; what is missing equals what is undefined", () => {
  const one = fingerprint({ a: 1, b: [{ x: 2, y: null }, "z"] });
  expect(fingerprint({ b: [{ y: null, x: 2 }, "z"], a: 1 })).toBe(one);
  expect(fingerprint({ b: [{ y: null, x: 2 }, "z"], a: 1, c: undefined })).toBe(one);
  expect(fingerprint(JSON.parse(JSON.stringify({ a: 1, b: [{ x: 2, y: null }, "z"] })))).toBe(one);
});

test("values that differ a little differ in their fingerprint", () => {
  const all = Array.from({ length: 20000 }, (_, i) =>
    fingerprint({ gain: i / 10, chain: [{ on: i % 2 === 0 }] }),
  );
  expect(new Set(all).size).toBe(all.length);
  expect(fingerprint([1, 2])).not.toBe(fingerprint([2, 1]));
});
