import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { balanceOf, bandsOf } from "./balance";
import { wantedOf } from "./flavour";
import { isTamed, ringCut } from "./rings";
import { shapeDrum } from "./shapeDrum";

const rate = 48000;
const times = Array.from({ length: 20 }, (_, i) => 0.3 + 0.5 * i);
/** Strokes of a drum: a tone, a box of its own level and a stick. */
function strokes(fundamental: number, box: number, stick: number): Float32Array {
  const x = new Float32Array(11 * rate);
  const hiss = noise(rate, 5, 1);
  for (const [k, t] of times.entries())
    for (let i = 0; i < 0.3 * rate; i++) {
      const s = i / rate;
      const tone = Math.sin(2 * Math.PI * fundamental * s) * Math.exp(-s / 0.08);
      const boxed = box * Math.sin(2 * Math.PI * 424 * s) * Math.exp(-s / 0.05);
      const click = stick * Math.sin(2 * Math.PI * 5657 * s) * Math.exp(-s / 0.01);
      x[Math.round(t * rate) + i]! += (0.2 + 0.1 * (k % 3)) * (tone + boxed + click) + 1e-4 * hiss[i]!;
    }
  return x;
}
const shape = (x: Float32Array, main = true) => shapeDrum(x, "kick", times, 60, rate, main)!;

describe("what a flavour makes of a drum", () => {
  const usual = shape(strokes(60, 0.2, 0.15));

  test("modern lifts lows and stick and cuts the box; what it changes is measured, not what the EQ is set to", () => {
    const { eq, changed } = usual.modern;
    expect(eq["bell1Frequency"]).toBe(60);
    expect(eq["bell2Gain"] as number).toBeLessThan(-2);
    // A bell of these widths over the whole band changes it by nearly its gain.
    expect(changed.weight).toBeGreaterThan(0.6 * (eq["bell1Gain"] as number));
    expect(changed.box).toBeLessThan(0.6 * (eq["bell2Gain"] as number));
  });
  test("a drum that has more stick gets less of it, one with less box is cut less", () => {
    const bright = shape(strokes(60, 0.2, 0.6)).modern.eq;
    const hollow = shape(strokes(60, 0.02, 0.15)).modern.eq;
    const gain = (eq: typeof bright, n: number) => (eq[`bell${n}Gain`] as number | undefined) ?? 0;
    expect(gain(bright, 4)).toBeLessThan(gain(usual.modern.eq, 4));
    expect(gain(hollow, 2)).toBeGreaterThan(gain(usual.modern.eq, 2));
  });
  test("the reduction is the flavour's, within a dB, as loud as before; natural does the least", () => {
    for (const flavour of ["modern", "vintage", "natural"] as const) {
      const { reductionDb, makeup } = usual[flavour].compressor!;
      expect(Math.abs(reductionDb - wantedOf(flavour, "kick").compressor.wishedDb)).toBeLessThan(1);
      expect(makeup).toBeGreaterThan(0);
      expect(makeup).toBeLessThan(reductionDb + 1);
    }
    expect(usual.natural.compressor!.reductionDb).toBeLessThan(usual.vintage.compressor!.reductionDb);
  });
  test("vintage rounds the peaks by what it says; modern kicks are not rounded", () => {
    expect(usual.modern.rounding).toBeNull();
    expect(Math.abs(usual.vintage.rounding!.peakDb + wantedOf("vintage", "kick").rounded)).toBeLessThan(1);
  });
  test("a drum with one far louder stroke is made quieter, by what it says, and keeps its room", () => {
    const x = strokes(60, 0.2, 0.15);
    const at = Math.round((times[7]! - 0.01) * rate);
    for (let i = 0; i < 0.4 * rate; i++) x[at + i]! *= 3.5;
    const { compressor } = shape(x).natural;
    expect(compressor!.lowered).toBeGreaterThan(0);
    expect(usual.natural.compressor!.lowered).toBeLessThan(compressor!.lowered);
  });
  test("a second mic gets an EQ only; without strokes there is nothing", () => {
    expect(shape(strokes(60, 0.2, 0.15), false).modern).toMatchObject({ compressor: null, rounding: null });
    expect(shapeDrum(new Float32Array(rate), "kick", [], 60, rate, true)).toBeNull();
    expect(shapeDrum(new Float32Array(100), "kick", [0.5], 60, rate, true)).toBeNull();
  });
});

test("parts of a drum are told against the whole: two equal tones are 3 dB below it each", () => {
  const frequencies = Float64Array.of(60, 440, 5000, 9000);
  const levels = Float64Array.of(-20, -20, -200, -200);
  const { weight, box, stick } = balanceOf({ frequencies, levels }, bandsOf("kick", 60));
  expect(weight).toBeCloseTo(-3.01, 2);
  expect(box).toBeCloseTo(-3.01, 2);
  expect(stick).toBeLessThan(-100);
});

describe("rings", () => {
  const tone = { fundamental: 190, ring: 900, ringDb: 12 };
  const ring = { frequency: 900, found: 0.8, tamed: 0.3, wanted: 0.25, strokes: 20 };
  test("one that lasts is tamed and not cut, one that dies quickly is cut", () => {
    expect(isTamed("snare", tone, ring)).toBe(true);
    expect(ringCut("snare", tone, ring)).toEqual({});
    expect(ringCut("snare", tone, { ...ring, found: 0.2 })).toMatchObject({ bell3Frequency: 900 });
    expect(ringCut("snare", tone, undefined)).toMatchObject({ bell3Gain: -7 });
  });
  test("kicks, and what does not stand out, are left", () => {
    expect(ringCut("kick", tone, undefined)).toEqual({});
    expect(ringCut("snare", { ...tone, ringDb: 6 }, undefined)).toEqual({});
    expect(isTamed("kick", tone, ring)).toBe(false);
  });
});
