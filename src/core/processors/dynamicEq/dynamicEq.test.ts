import { describe, expect, test } from "@jest/globals";
import { resolveParams } from "../../params";
import { rate, run } from "../../testing/runProcessor";
import { impulse, levelAt, noise, sine } from "../../testing/signals";
import { dynamicEq } from ".";
import { dynamicResponseDb } from "./response";

describe("dynamic EQ", () => {
  // The closed form is the W3C Cookbook's; at rest the filter does not move and can be measured as a linear one.
  test.each([
    ["high shelf", { lowShape: "off", highShape: "high shelf", highFrequency: 700, highGain: -18 }],
    ["low shelf", { highShape: "off", lowShape: "low shelf", lowFrequency: 300, lowGain: -12 }],
    [
      "eight bands",
      {
        lowShape: "low shelf",
        highShape: "high shelf",
        band3Shape: "bell",
        band4Shape: "low shelf",
        band5Shape: "high shelf",
        band6Shape: "bell",
        band7Shape: "bell",
        band8Shape: "bell",
        band3Gain: -4,
        band4Gain: 3,
        band5Gain: 5,
        band6Gain: -7,
        band7Gain: 6,
        band8Gain: -3,
      },
    ],
    ["bell", { lowShape: "off", highShape: "bell", highFrequency: 2000, highWidth: 2, highGain: 9 }],
  ])("%s at rest has its closed-form response", (_, values) => {
    const [y] = run(dynamicEq, { opens: "hits", ...values }, impulse(16384, 100));
    const full = resolveParams(dynamicEq.params, { opens: "hits", ...values });
    for (const f of [60, 200, 700, 2000, 8000, 15000])
      expect(Math.abs(levelAt(y!, f) - dynamicResponseDb(full, 0, f, rate))).toBeLessThan(0.05);
  });
  test("half the gain at the corner of a shelf (Cookbook)", () => {
    const full = resolveParams(dynamicEq.params, { lowShape: "off", highFrequency: 700, highGain: -18 });
    expect(dynamicResponseDb(full, 0, 700, rate)).toBeCloseTo(-9, 6);
    expect(dynamicResponseDb(full, 1, 5000, rate)).toBeCloseTo(0, 6);
  });
  test("a bell at 5 kHz is moved by a loud 100 Hz tone when it hears the whole mic, and not when it hears its band", () => {
    const x = sine(100, 0.5, 1).map((v, i) => v + 0.001 * Math.sin((2 * Math.PI * 5000 * i) / rate));
    const change = (hears: string) => {
      const values = {
        opens: "level",
        lowShape: "off",
        highShape: "off",
        band3Shape: "bell",
        band3Frequency: 5000,
        band3Width: 2,
        band3Range: -12,
        band3Hears: hears,
      };
      const [y] = run(dynamicEq, values, x);
      return levelAt(y!.slice(24000, 48000), 5000) - levelAt(x.slice(24000, 48000), 5000);
    };
    expect(change("whole mic")).toBeLessThan(-11);
    expect(Math.abs(change("band"))).toBeLessThan(0.5);
  });
  test("a hit opens it at once; between hits the bleed is down by its gain", () => {
    const x = noise(rate, 5);
    const values = { opens: "hits", lowShape: "off", highFrequency: 20, highGain: -18, highRange: 18 };
    const [y] = run(dynamicEq, values, x, Float64Array.from([24000]));
    const power = (v: Float32Array, a: number, b: number) => v.slice(a, b).reduce((s, u) => s + u * u, 0);
    const change = (a: number, b: number) => 10 * Math.log10(power(y!, a + 48, b + 48) / power(x, a, b));
    expect(change(10000, 20000)).toBeCloseTo(-18, 0);
    expect(change(24000, 24400)).toBeGreaterThan(-0.5);
    expect(change(30000, 40000)).toBeCloseTo(-18, 0);
  });
});
