import { describe, expect, test } from "@jest/globals";
import { bandEnergies } from "../bandEnergies";
import { noise } from "../../testing/signals";
import { ringing, ringNames } from "./ringing";

const rate = 48000;
const at = 1;
/** A hiss that is struck once and falls by `perSecond` dB, over a steady ground. */
const struck = (perSecond: number, ground = 1e-4): Float32Array =>
  noise(3 * rate, 5).map((v, i) => {
    const t = i / rate - at;
    return v * (ground + (t < 0 ? 0 : 0.3 * 10 ** ((-perSecond * t) / 20)));
  });
const of = (x: Float32Array): Record<string, number> => {
  const energies = bandEnergies(x, rate);
  const values = ringing(energies, Math.round(at / energies.hop));
  return Object.fromEntries(ringNames.map((name, i) => [name, values[i]!]));
};

describe("the ring of a cymbal", () => {
  test("sinks as fast as it does: a crash by a few dB, a closed hat by all", () => {
    // The low quantile of 50 to 150 ms lies behind 120 ms: 20 dB/s have taken 2.4 dB by then, 400 dB/s all but the ground.
    expect(of(struck(20))["choke5"]).toBeGreaterThan(-7);
    expect(of(struck(400))["choke5"]).toBeLessThan(-30);
  });
  test("stays above what was there before for a crash, not for a hat", () => {
    // 0.3 over 1e-4 is 69.5 dB; 360 ms later 7.2 dB of that are gone.
    expect(of(struck(20))["late5"]).toBeGreaterThan(55);
    expect(of(struck(20))["late5"]).toBeLessThan(70);
    expect(Math.abs(of(struck(400))["late5"]!)).toBeLessThan(3);
  });
  test("a stroke of something else in the midst of it does not count", () => {
    const x = struck(400);
    const other = noise(0.02 * rate, 7).map((v) => 0.3 * v);
    x.set(other, Math.round((at + 0.25) * rate));
    expect(Math.abs(of(x)["late5"]!)).toBeLessThan(3);
  });
  test("has a value for every name, at the edges of a song too", () => {
    const energies = bandEnergies(noise(0.2 * rate, 1), rate);
    for (const column of [0, 3, energies.columns - 1]) {
      const values = ringing(energies, column);
      expect(values).toHaveLength(ringNames.length);
      expect(values.every(Number.isFinite)).toBe(true);
    }
  });
});
