import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { Convolver, partitionResponse } from "./partitionedResponse";
import vectors from "./partitionedResponse.vectors.json";

function convolved(x: Float32Array, h: Float32Array, split: readonly number[]): Float64Array {
  const convolver = new Convolver(partitionResponse([h]).channels[0]!);
  const y = new Float64Array(x.length);
  for (let at = 0, b = 0; at < x.length; b++) {
    const n = Math.min(split[b % split.length]!, x.length - at);
    convolver.process(x.subarray(at, at + n), y.subarray(at, at + n), n);
    at += n;
  }
  return y;
}

describe("convolution in parts", () => {
  // tools/vectors/convolution.py: scipy.signal.fftconvolve.
  test("equals scipy to -120 dB, at the seams of all parts and between", () => {
    const { frames, taps, at, y: wanted, rms } = vectors;
    const x = Float32Array.from({ length: frames }, (_, n) => 0.5 * Math.sin(0.37 * n + 1e-5 * n * n));
    const h = Float32Array.from({ length: taps }, (_, k) => Math.cos(1.3 * k) * Math.exp(-k / 5000) * 0.01);
    const y = convolved(x, h, [128]);
    at.forEach((i, k) =>
      expect(20 * Math.log10(Math.abs(y[i]! - wanted[k]!) / rms + 1e-12)).toBeLessThan(-120),
    );
  });
  test("any split into blocks gives the same, and nothing is late", () => {
    const x = noise(9000, 1);
    const h = noise(7000, 2, 0.1);
    const whole = convolved(x, h, [9000]);
    expect(convolved(x, h, [1, 37, 500, 128])).toEqual(whole);
    expect(whole[0]).toBeCloseTo(x[0]! * h[0]!, 9);
  });
  test.each([1, 100, 128, 129, 1024, 1025, 4097])(
    "a response of %d frames: one frame in gives it back",
    (length) => {
      const h = noise(length, 3, 0.5);
      const x = new Float32Array(9000);
      x[10] = 1;
      const y = convolved(x, h, [64]);
      for (let i = 0; i < length; i++) expect(Math.abs(y[10 + i]! - h[i]!)).toBeLessThan(1e-9);
      for (let i = 10 + length; i < 9000; i++) expect(Math.abs(y[i]!)).toBeLessThan(1e-9);
    },
  );
});
