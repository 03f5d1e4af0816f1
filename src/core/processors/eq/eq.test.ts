import { describe, expect, test } from "@jest/globals";
import { resolveParams, type AnyValues } from "../../params";
import { responseDb } from "../../signal/biquad";
import { pairThrough, run } from "../../testing/runProcessor";
import { levelAt, sine } from "../../testing/signals";
import { eq } from ".";
import { bandFrequency, designEq, eqParams } from "./eq";

const rate = 48000;
const response = (values: AnyValues, f: number, at = rate) =>
  responseDb(designEq(resolveParams(eqParams, values), at), f, at);
/** What comes out of a sine, dB. */
const measured = (values: AnyValues, f: number) => {
  const x = sine(f, 0.25, 1);
  return levelAt(run(eq, values, x)[0]!.slice(24000), f) - levelAt(x.slice(24000), f);
};

describe("EQ", () => {
  // W3C Audio EQ Cookbook, analogue prototypes with the warped frequency: notch (s^2 + 1) / (s^2 + s/Q + 1), band-pass
  // (s/Q) / (s^2 + s/Q + 1).
  test.each(["notch", "band-pass"])("a %s is the Cookbook's", (shape) => {
    const [f0, q] = [1500, 3];
    const values = { bell1Shape: shape, bell1Frequency: f0, bell1Q: q };
    for (const f of [100, 800, 1400, 2500, 12000]) {
      const w = Math.tan((Math.PI * f) / rate) / Math.tan((Math.PI * f0) / rate);
      const den = (1 - w * w) ** 2 + (w / q) ** 2;
      const num = shape === "notch" ? (1 - w * w) ** 2 : (w / q) ** 2;
      expect(response(values, f)).toBeCloseTo(10 * Math.log10(num / den), 6);
      expect(measured(values, f)).toBeCloseTo(10 * Math.log10(num / den), 1);
    }
    expect(response(values, f0)).toBeCloseTo(shape === "notch" ? -300 : 0, shape === "notch" ? -2 : 6);
  });
  test("a tilt lifts above and lowers below by the same, and is level in its middle", () => {
    const values = { bell2Shape: "tilt", bell2Frequency: 1000, bell2Gain: 4 };
    expect(response(values, 20)).toBeCloseTo(-4, 1);
    expect(response(values, 1000)).toBeCloseTo(0, 6);
    expect(response(values, 20000)).toBeCloseTo(4, 1);
    expect(measured(values, 300)).toBeCloseTo(response(values, 300), 1);
  });
  test("shelves as bands reach their gain, half of it at the corner", () => {
    for (const [shape, low, high] of [
      ["low shelf", -9, 0],
      ["high shelf", 0, -9],
    ] as const) {
      const values = { bell7Shape: shape, bell7Frequency: 800, bell7Gain: -9 };
      expect(response(values, 20)).toBeCloseTo(low, 1);
      expect(response(values, 800)).toBeCloseTo(-4.5, 6);
      expect(response(values, 19000)).toBeCloseTo(high, 1);
    }
  });
  test("a low shelf with its dip lifts by its gain and takes out above it", () => {
    const values = { lowShelfFrequency: 60, lowShelfGain: 5, lowShelfDip: 4 };
    expect(response(values, 10)).toBeCloseTo(5, 0);
    const dip = Math.min(...[120, 160, 200, 260].map((f) => response(values, f)));
    expect(dip).toBeLessThan(-1.5);
    expect(response(values, 3000)).toBeCloseTo(0, 0);
  });
  /** Where a lifted bell has half its gain in dB, above its middle, Hz. */
  const halfWay = (widths: string, gain: number) => {
    const values = { widths, bell1Frequency: 1000, bell1Gain: gain, bell1Q: 1 };
    for (let f = 1000; ; f += 1) if (response(values, f) < gain / 2) return f;
  };
  test("constant bells keep their width where the others narrow as they are lifted", () => {
    expect(Math.abs(halfWay("constant", 12) - halfWay("constant", 3))).toBeLessThan(5);
    expect(halfWay("narrower with gain", 12)).toBeLessThan(halfWay("narrower with gain", 3) - 100);
  });
  test("tied bands stand at their ratio to the fundamental, wherever that goes", () => {
    const tied = (fundamental: number) =>
      resolveParams(eqParams, { fundamental, bell3Ratio: 2.5, bell3Gain: 6, bell3Q: 4 });
    expect(bandFrequency(tied(80), 3)).toBe(200);
    expect(bandFrequency(tied(110), 3)).toBe(275);
    expect(response({ fundamental: 110, bell3Ratio: 2.5, bell3Gain: 6 }, 275)).toBeCloseTo(6, 6);
    expect(bandFrequency(tied(2000), 3)).toBe(5000);
  });
  test("one band is heard alone as a band-pass, whatever else is set", () => {
    const values = {
      hear: "band 5",
      bell5Frequency: 700,
      bell1Gain: 12,
      highPassSlope: "24",
      highPassFrequency: 2000,
    };
    expect(measured(values, 700)).toBeCloseTo(0, 1);
    expect(measured(values, 70)).toBeLessThan(-15);
  });
  test("a band of one side, of mid or of side changes that alone", () => {
    const a = sine(1000, 0.25, 1);
    const none = new Float32Array(a.length);
    const gain = (side: string, left: Float32Array, right: Float32Array) => {
      const values = { bell1Frequency: 1000, bell1Gain: 6, bell1Q: 2, bell1Side: side };
      const [l, r] = pairThrough(eq, values, left, right);
      const of = (y: Float32Array, x: Float32Array) =>
        levelAt(y.slice(24000), 1000) - levelAt(x.slice(24000), 1000);
      return [left === none ? 0 : of(l, left), right === none ? 0 : of(r, right)];
    };
    const minus = a.map((v) => -v);
    for (const [side, left, right, wanted] of [
      ["left", a, a, [6, 0]],
      ["right", a, a, [0, 6]],
      ["mid", a, a, [6, 6]],
      ["mid", a, minus, [0, 0]],
      ["side", a, a, [0, 0]],
      ["side", a, minus, [6, 6]],
    ] as const)
      gain(side, left, right).forEach((db, ch) => expect(db).toBeCloseTo(wanted[ch]!, 2));
    // One channel is all mid: a band of the side does nothing there.
    expect(measured({ bell1Frequency: 1000, bell1Gain: 6, bell1Side: "mid" }, 1000)).toBeCloseTo(6, 2);
    expect(measured({ bell1Frequency: 1000, bell1Gain: 6, bell1Side: "side" }, 1000)).toBeCloseTo(0, 2);
  });
  // The bilinear transform squeezes what lies near half the rate; the analogue bell beside it. Said in docs/sound.md.
  test.each([
    [44100, 1.5],
    [48000, 1.2],
    [96000, 0.35],
    [192000, 0.1],
  ])("at %d Hz a bell at 8 kHz lies within %d dB of the analogue one up to 16 kHz", (at, limit) => {
    const [f0, gain, q] = [8000, 6, 1];
    const a = 10 ** (gain / 40);
    let worst = 0;
    for (let f = 20; f <= 16000; f *= 1.02) {
      const w = f / f0;
      const analogue =
        10 * Math.log10(((1 - w * w) ** 2 + ((a * w) / q) ** 2) / ((1 - w * w) ** 2 + (w / (a * q)) ** 2));
      const values = { bell1Frequency: f0, bell1Gain: gain, bell1Q: q };
      worst = Math.max(worst, Math.abs(response(values, f, at) - analogue));
    }
    expect(worst).toBeLessThan(limit);
  });
});
