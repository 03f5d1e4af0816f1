import { describe, expect, test } from "@jest/globals";
import { decayTime } from "../../measure/decay";
import { Cascade, designBandPass } from "../../signal/biquad";
import { noise } from "../../testing/signals";
import { run } from "../../testing/runProcessor";
import { ringTamer } from ".";

const rate = 48000;
const onsets = [4800, 4800 + 2 * rate];
/** Two strokes, the second 20 dB softer: a burst, a partial of 412 Hz that rings for 1 s, and one of 900 Hz that may stay. */
function ringing(): Float32Array {
  const x = new Float32Array(4 * rate);
  const burst = noise(rate, 4, 0.5);
  onsets.forEach((from, k) => {
    for (let i = 0; i < 1.9 * rate; i++) {
      const t = i / rate;
      const fall = (T60: number) => 10 ** ((-3 * t) / T60);
      const sound =
        0.3 * Math.sin(2 * Math.PI * 412 * t) * fall(1) +
        0.05 * Math.sin(2 * Math.PI * 1900 * t) * fall(1) +
        (i < rate ? burst[i]! * fall(0.12) : 0);
      x[from + i]! += (k ? 0.1 : 1) * sound;
    }
  });
  return x;
}
/** T60 of what lies around a frequency from `from` on, s. */
function t60(x: Float32Array, f: number, from: number): number {
  const filter = new Cascade(1);
  filter.set([designBandPass(f, 15, rate)]);
  const y = new Float32Array(1.8 * rate);
  filter.process(x.slice(from, from + y.length), y, y.length);
  const step = 240;
  const energies = Array.from({ length: Math.floor(y.length / step) - 12 }, (_, k) =>
    y.subarray((k + 12) * step, (k + 13) * step).reduce((s, v) => s + v * v, 0),
  );
  return decayTime(energies, step / rate)!;
}
const values = { frequency: 412, found: 1, wanted: 0.3, depth: 48 };

describe("ring tamer", () => {
  const x = ringing();
  const hits = Float64Array.from(onsets);
  test.each(["level", "hits"])(
    "by %s: the ring dies in the time that is wanted, loud and soft strokes alike",
    (opens) => {
      const y = run(ringTamer, { ...values, opens }, x, hits)[0]!;
      for (const onset of onsets) {
        expect(t60(x, 412, onset)).toBeCloseTo(1, 1);
        expect(Math.abs(t60(y, 412, onset) / 0.3 - 1)).toBeLessThan(0.15);
      }
      expect(Math.abs(t60(y, 412, onsets[0]!) - t60(y, 412, onsets[1]!))).toBeLessThan(0.02);
    },
  );
  test("other partials keep ringing, and the attack keeps its peak", () => {
    const y = run(ringTamer, values, x)[0]!;
    expect(t60(y, 1900, onsets[0]!) / t60(x, 1900, onsets[0]!)).toBeCloseTo(1, 1);
    const peak = (s: Float32Array, from: number) => Math.max(...s.slice(from, from + 480).map(Math.abs));
    for (const onset of onsets) expect(20 * Math.log10(peak(y, onset) / peak(x, onset))).toBeCloseTo(0, 0);
  });
  test("with nothing to take off it changes nothing, and the cut ends at its depth", () => {
    const same = run(ringTamer, { ...values, wanted: 1 }, x)[0]!;
    expect(same.reduce((most, v, i) => Math.max(most, Math.abs(v - x[i]!)), 0)).toBeLessThan(1e-6);
    const y = run(ringTamer, { ...values, wanted: 0.05, depth: 12 }, x)[0]!;
    const level = (s: Float32Array) =>
      Math.hypot(...s.slice(onsets[0]! + 0.4 * rate, onsets[0]! + 0.5 * rate));
    // The partial that may stay holds 0.05^2 of the power against 0.3^2 of the ring's.
    const wanted = 10 * Math.log10((0.3 ** 2 * 10 ** -1.2 + 0.05 ** 2) / (0.3 ** 2 + 0.05 ** 2));
    expect(20 * Math.log10(level(y) / level(x))).toBeCloseTo(wanted, 0);
  });
});
