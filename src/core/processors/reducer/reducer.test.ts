import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { levelAt, noise, sine } from "../../testing/signals";
import { reducer } from ".";

const powerDb = (x: Float32Array) => 10 * Math.log10(x.reduce((sum, v) => sum + v * v, 0) / x.length);

describe("bit and rate reducer", () => {
  // Textbook: a full-scale sine over a uniform quantiser has 6.02 n + 1.76 dB of signal to noise.
  test.each([6, 8, 8.5, 10, 12, 14])("%d bits leave 6.02 n + 1.76 dB", (bits) => {
    const x = sine(997, 1, 2);
    const [y] = run(reducer, { bits }, x);
    expect(powerDb(x) - powerDb(y!.map((v, i) => v - x[i]!))).toBeCloseTo(6.02 * bits + 1.76, 0);
  });
  // Vanderkooy and Lipshitz 1989: with TPDF of two steps the error is noise of three times the power, free of harmonics.
  test("dither costs 4.77 dB and takes the harmonics of a soft sine away", () => {
    const x = sine(1000, 2.3 * 2 ** -9, 4);
    const error = (dither: string) => run(reducer, { bits: 10, dither }, x)[0]!.map((v, i) => v - x[i]!);
    const [plain, dithered] = [error("none"), error("TPDF")];
    expect(powerDb(dithered) - 10 * Math.log10((2 ** -9) ** 2 / 12)).toBeCloseTo(4.77, 0);
    const harmonics = (e: Float32Array) => Math.max(...[3, 5, 7, 9].map((n) => levelAt(e, 1000 * n)));
    expect(harmonics(plain) - levelAt(x, 1000)).toBeGreaterThan(-40);
    expect(harmonics(dithered) - levelAt(x, 1000)).toBeLessThan(-45);
  });
  test("holds each value for the rate's time, fractions on average", () => {
    const x = noise(48000, 3);
    const [y] = run(reducer, { bits: 24, rate: 7000 }, x);
    const changes = y!.filter((v, i) => i > 0 && v !== y![i - 1]!).length;
    expect(Math.abs(changes - 7000)).toBeLessThanOrEqual(2);
  });
  // Images of a held sine, sinc-weighted (zero-order hold, any sampling handbook).
  test("a held sine has its image where and as loud as a zero-order hold has it", () => {
    const [y] = run(reducer, { bits: 24, rate: 8000 }, sine(1000, 0.5, 1));
    const sinc = (f: number) => Math.sin((Math.PI * f) / 8000) / ((Math.PI * f) / 8000);
    const wanted = 20 * Math.log10(sinc(7000) / sinc(1000));
    // Held over six frames of the song, not over a continuous time: a few tenths of a dB.
    expect(Math.abs(levelAt(y!, 7000) - levelAt(y!, 1000) - wanted)).toBeLessThan(0.5);
  });
});
