import { describe, expect, test } from "@jest/globals";
import { rate, run } from "../../testing/runProcessor";
import { impulse } from "../../testing/signals";
import { designButterworth, filtered } from "../../signal/biquad";
import { reverb } from ".";

describe("reverb", () => {
  // Schroeder integration (JASA 37, 1965), T60 from the -5 to -35 dB slope (ISO 3382-1, T30).
  const t60 = (decay: number, damping: number, low: number, high: number, more = {}): number => {
    const [wet] = run(reverb, { decay, damping, ...more }, impulse(Math.round(rate * decay * 2)));
    const band = [...designButterworth("high", low, 4, rate), ...designButterworth("low", high, 4, rate)];
    const y = filtered(wet!, band);
    const energy = new Float64Array(y.length);
    let sum = 0;
    for (let i = y.length - 1; i >= 0; i--) energy[i] = sum += y[i]! ** 2;
    const reach = (db: number) => energy.findIndex((e) => 10 * Math.log10(e / energy[0]!) <= db);
    return (2 * (reach(-35) - reach(-5))) / rate;
  };
  // Middle frequencies as there: the octaves of 500 Hz and 1 kHz.
  test.each([
    [0.4, 6500],
    [0.8, 6500],
    [2, 6500],
    [2, 4000],
    [3, 20000],
  ])("decays by 60 dB in the %d s that are set, within 10 %%, damping %d Hz", (decay, damping) => {
    expect(Math.abs(t60(decay, damping, 354, 1414) / decay - 1)).toBeLessThan(0.1);
  });
  test.each(["chamber", "plate", "hall"])(
    "a %s decays by 60 dB in the time that is set, still or wandering",
    (kind) => {
      for (const modulation of [0, 60])
        expect(Math.abs(t60(1.8, 20000, 354, 1414, { kind, modulation }) / 1.8 - 1)).toBeLessThan(0.1);
    },
  );
  /**
   * Echo density: share of frames beyond one standard deviation, against that of noise (0.317), in windows of 20 ms.
   * Source  Abel and Huang, "A simple, robust measure of reverberation echo density", AES 121st Convention, 2006.
   */
  const density = (kind: string, from: number): number => {
    const [y] = run(reverb, { kind, decay: 2, size: 100, damping: 20000, predelay: 0 }, impulse(rate));
    const x = y!.slice(from * rate, (from + 0.02) * rate);
    const sd = Math.sqrt(x.reduce((sum, v) => sum + v * v, 0) / x.length);
    return x.filter((v) => Math.abs(v) > sd).length / x.length / 0.317;
  };
  test("a plate is dense at once, a hall later, and all of them in the end", () => {
    expect(density("plate", 0.06)).toBeGreaterThan(0.7);
    expect(density("hall", 0.08)).toBeLessThan(density("plate", 0.08));
    for (const kind of ["room", "chamber", "plate", "hall"]) expect(density(kind, 0.6)).toBeGreaterThan(0.85);
  });
  test("decays in half the time at the damping", () => {
    expect(Math.abs(t60(1.5, 4000, 3700, 4300) / 0.75 - 1)).toBeLessThan(0.15);
  });
  test("both sides are as loud and not the same", () => {
    const [l, r] = run(reverb, {}, impulse(rate));
    const power = (x: Float32Array) => x.reduce((s, v) => s + v * v, 0);
    expect(Math.abs(10 * Math.log10(power(l!) / power(r!)))).toBeLessThan(3);
    expect(l).not.toEqual(r);
  });
});
