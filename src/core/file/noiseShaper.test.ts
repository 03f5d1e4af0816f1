import { describe, expect, test } from "@jest/globals";
import { randomSource } from "../signal/random";
import { levelAt } from "../testing/signals";
import { NoiseShaper, shapingWeights } from "./noiseShaper";

const rate = 44100;
const frames = 4 * rate;

/** Error of rounding a tone to whole steps, steps. */
function errorOf(shaped: boolean): Float32Array {
  const random = randomSource(5);
  const shaper = new NoiseShaper();
  return Float32Array.from({ length: frames }, (_, i) => {
    const x = 1000 * Math.sin((2 * Math.PI * 440.3 * i) / rate);
    const dither = random() - random();
    return (shaped ? shaper.next(x, dither) : Math.round(x + dither)) - x;
  });
}
/** Mean power around a frequency, dB. */
function around(x: Float32Array, f: number): number {
  let sum = 0;
  for (let k = -20; k < 20; k++) sum += 10 ** (levelAt(x, f + 3.7 * k, rate) / 10);
  return 10 * Math.log10(sum / 40);
}
/** Response of 1 - sum w z^-k, dB. */
function response(f: number): number {
  let [re, im] = [1, 0];
  shapingWeights.forEach((w, k) => {
    const a = (2 * Math.PI * f * (k + 1)) / rate;
    re -= w * Math.cos(a);
    im += w * Math.sin(a);
  });
  return 20 * Math.log10(Math.hypot(re, im));
}

describe("shaped dither", () => {
  const [white, shaped] = [errorOf(false), errorOf(true)];
  test.each([200, 1000, 3500, 8000, 12000, 18000])(
    "its noise at %i Hz is that of white dither through the published filter",
    (f) => {
      expect(Math.abs(around(shaped, f) - around(white, f) - response(f))).toBeLessThan(1.5);
    },
  );
  test("where one hears best it is more than 10 dB lower", () => {
    expect(around(shaped, 3500)).toBeLessThan(around(white, 3500) - 10);
  });
  test("clipping does not make it run away", () => {
    const shaper = new NoiseShaper();
    for (let i = 0; i < 1000; i++) expect(Math.abs(shaper.next(40000, 0) - 40000)).toBeLessThan(60);
  });
});
