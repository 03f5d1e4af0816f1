import { describe, expect, test } from "@jest/globals";
import { hann, powerOfTwo, RealFft } from "../signal/fft";
import { noise, sine } from "../testing/signals";
import { bandEdges, bandEnergies, bands } from "./bandEnergies";

/** One column in 64 bits, a window after the other: what the kernel is held against. */
function reference(x: Float32Array, column: number, hopFrames: number, sampleRate: number): number[] {
  const size = powerOfTwo(0.0088 * sampleRate);
  const spectrum = RealFft.of(size).spectrum();
  RealFft.of(size).forward(x, column * hopFrames - size / 2, size, spectrum, hann(size));
  const edges = bandEdges.map((hz) => Math.round((hz * size) / sampleRate));
  for (let b = 1; b < edges.length; b++) edges[b] = Math.max(edges[b]!, edges[b - 1]! + 1);
  return Array.from({ length: bands }, (_, b) => {
    let sum = 0;
    for (let k = edges[b]!; k < edges[b + 1]!; k++) sum += spectrum.re[k]! ** 2 + spectrum.im[k]! ** 2;
    return (2 * sum) / (size * size * 0.375);
  });
}
/** Strokes 80 dB over what lies between. */
const strokes = (frames: number): Float32Array =>
  noise(frames, 9).map((v, i) => v * (1e-4 + Math.exp(-(i % 9000) / 400)));

describe("energies in bands", () => {
  test.each([44100, 48000, 96000, 192000])(
    "at %i Hz the kernel hears what 64 bits hear, to the edges of the file",
    (rate) => {
      const x = strokes(0.5 * rate + 37);
      const found = bandEnergies(x, rate);
      expect(found.columns).toBe(Math.floor(x.length / found.hopFrames));
      for (let t = 0; t < found.columns; t++)
        reference(x, t, found.hopFrames, rate).forEach((energy, b) => {
          // Eight windows share a pass in 32 bits: 120 dB under the loudest of them is its ground.
          expect(Math.abs(found.energy[b]![t]! - energy)).toBeLessThan(0.002 * energy + 1e-12);
        });
    },
  );
  test("a sine of amplitude 0.5 has a mean square of 0.125 in its band and next to nothing in the others", () => {
    const { energy, columns } = bandEnergies(sine(1500, 0.5, 1), 48000);
    const middle = Math.round(columns / 2);
    expect(energy[3]![middle]!).toBeCloseTo(0.125, 3);
    for (const b of [0, 1, 4, 5]) expect(energy[b]![middle]!).toBeLessThan(1e-5);
  });
  test("silence is silence, also where a loud window shares the pass", () => {
    const x = new Float32Array(48000);
    expect(bandEnergies(x, 48000).energy.every((e) => e.every((v) => v === 0))).toBe(true);
    x.fill(0.9, 24000, 24200);
    const { energy, hop } = bandEnergies(x, 48000);
    const before = Math.round(0.48 / hop);
    for (let b = 0; b < bands; b++) expect(energy[b]![before]!).toBeLessThan(1e-12);
  });
});
