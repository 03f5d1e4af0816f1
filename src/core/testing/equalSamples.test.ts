import { expect, test } from "@jest/globals";

// jest.config.mjs sets it up for all tests.
test("samples are equal only to the same samples of the same kind", () => {
  const x = Float32Array.of(1, NaN, -0.5);
  expect(x).toEqual(Float32Array.of(1, NaN, -0.5));
  expect([x, { x }]).toEqual([x.slice(), { x: x.slice() }]);
  expect(x).not.toEqual(Float32Array.of(1, NaN, -0.5, 0));
  expect(x).not.toEqual(Float32Array.of(1, NaN, -0.25));
  expect(Float32Array.of(0)).not.toEqual(Float32Array.of(-0));
  expect(x).not.toEqual(Float64Array.from(x));
  expect(Float32Array.of(1, 2)).not.toEqual([1, 2]);
  expect(Buffer.of(1, 2)).toEqual(Buffer.of(1, 2));
  expect(Buffer.of(1, 2)).not.toEqual(Buffer.of(1, 3));
  expect(new DataView(new ArrayBuffer(2))).toEqual(new DataView(new ArrayBuffer(2)));
});
