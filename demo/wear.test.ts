import { describe, expect, test } from "@jest/globals";
import { peakOf } from "../src/core/signal/level";
import { overdriven, squashed } from "./wear";

const rate = 48000;
const tone = (seconds: number, gain: number) =>
  Float32Array.from({ length: seconds * rate }, (_, i) => gain * Math.sin((2 * Math.PI * 100 * i) / rate));

describe("wear of a recording", () => {
  test("a driven preamp keeps the peak and lifts what is quiet by about its drive", () => {
    const loud = overdriven(tone(0.1, 0.5), 6, -6.0206);
    expect(peakOf(loud)).toBeCloseTo(0.5, 3);
    // tanh: the slope at nothing over that at the peak; 0.01 of a limit of 0.25 is linear.
    const quiet = overdriven(tone(0.1, 0.01), 6, -6.0206);
    expect(peakOf(quiet) / 0.01).toBeCloseTo(2 / Math.tanh(2), 1);
  });
  test("a squashed room loses its loud moments against its quiet ones, the peak stays", () => {
    const x = tone(2, 0.05);
    for (let i = rate; i < 57600; i++) x[i]! *= 16;
    const y = squashed(x, 10, rate);
    expect(peakOf(y)).toBeCloseTo(peakOf(x), 5);
    const ratio = (z: Float32Array) => peakOf(z, 52800, 55200) / peakOf(z, 24000, 28800);
    expect(ratio(y)).toBeLessThan(0.6 * ratio(x));
  });
});
