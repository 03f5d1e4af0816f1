import { describe, expect, test } from "@jest/globals";
import { run } from "../../testing/runProcessor";
import { sine } from "../../testing/signals";
import { transient } from ".";
import { WHOLE_DB } from "./rows";

const rate = 48000;
const db = (x: number) => 20 * Math.log10(Math.abs(x));
const constant = (level: number, seconds: number) => new Float32Array(Math.round(seconds * rate)).fill(level);
/** Gain in dB at a frame. */
const gainAt = (x: Float32Array, y: Float32Array, i: number) => db(y[i]! / x[i]!);

/** Two decaying strokes of 100 Hz, one at a level and one 20 dB below it. */
function loudAndSoft(level: number): { x: Float32Array; onsets: [number, number] } {
  const x = new Float32Array(2 * rate);
  const onsets: [number, number] = [4800, 4800 + rate];
  onsets.forEach((from, k) => {
    for (let i = 0; i < 0.8 * rate; i++)
      x[from + i]! +=
        level * (k ? 0.1 : 1) * Math.cos((2 * Math.PI * 100 * i) / rate) * Math.exp(-i / (0.08 * rate));
  });
  return { x, onsets };
}

describe("attack and sustain", () => {
  // Closed form: the envelope that needs the attack time reaches 1 - e^(-t/T) of a step, the other all of it at once.
  test.each([0.005, 0.02])(
    "a step is lifted by the distance of its two envelopes, attack time %d s",
    (attackTime) => {
      const x = constant(0.1, 0.3);
      const y = run(transient, { attack: 6, attackTime }, x)[0]!;
      for (const t of [0.4, 0.7, 1, 2, 3].map((n) => n * attackTime)) {
        const apart = -db(1 - Math.exp(-t / attackTime));
        expect(gainAt(x, y, Math.round(t * rate) - 1)).toBeCloseTo(6 * Math.min(1, apart / WHOLE_DB), 0);
      }
      expect(gainAt(x, y, 14000)).toBeCloseTo(0, 2);
    },
  );
  // Closed form: behind the hold of 12 ms both envelopes fall exponentially towards what is left.
  test("what is left behind a burst is lowered by the distance of a slow and a following decay", () => {
    const x = constant(0.5, 0.6);
    const left = 0.5e-3;
    x.fill(left, 4800);
    const y = run(transient, { sustain: -9, sustainTime: 0.3 }, x)[0]!;
    for (const t of [0.005, 0.01, 0.015, 0.05]) {
      const behind = 4800 + Math.round((0.012 + t) * rate);
      const level = (T: number) => left + (0.5 - left) * Math.exp(-t / T);
      const apart = db(level(0.3)) - db(level(0.01));
      expect(gainAt(x, y, behind)).toBeCloseTo(-9 * Math.min(1, apart / WHOLE_DB), 0);
    }
  });
  // The limit of the work: the change of strokes at -20 and -40 dBFS is equal within 0.5 dB.
  test.each(["level", "hits"])("by %s: loud and soft strokes are changed alike, attack and tail", (opens) => {
    const { x, onsets } = loudAndSoft(0.1);
    const values = { attack: 8, sustain: -6, opens };
    const y = run(transient, values, x, Float64Array.from(onsets))[0]!;
    const energyDb = (s: Float32Array, from: number, to: number) =>
      10 * Math.log10(s.slice(from, to).reduce((sum, v) => sum + v * v, 0));
    const change = (onset: number, from: number, to: number) => {
      const [a, b] = [onset + from * rate, onset + to * rate];
      return energyDb(y, a, b) - energyDb(x, a, b);
    };
    const [loud, soft] = onsets;
    expect(change(loud, 0, 0.01)).toBeGreaterThan(3);
    expect(change(loud, 0.1, 0.2)).toBeLessThan(-1);
    expect(Math.abs(change(loud, 0, 0.01) - change(soft, 0, 0.01))).toBeLessThan(0.5);
    expect(Math.abs(change(loud, 0.1, 0.2) - change(soft, 0.1, 0.2))).toBeLessThan(0.5);
  });
  test("a lift ends at full scale", () => {
    const y = run(transient, { attack: 24 }, sine(100, 0.7, 0.2))[0]!;
    expect(Math.max(...y.map(Math.abs))).toBeLessThanOrEqual(1.00001);
    expect(Math.max(...y.map(Math.abs))).toBeGreaterThan(0.98);
  });
  test("at rest nothing is changed, to the bit", () => {
    const x = sine(100, 0.7, 0.2);
    expect(run(transient, {}, x)[0]).toEqual(x);
  });
  test.each(["2", "3"])("in %s bands at rest: flat within 0.05 dB at every frequency", (bands) => {
    for (const f of [50, 200, 700, 3000, 9000]) {
      const x = sine(f, 0.5, 0.3);
      const y = run(transient, { bands }, x)[0]!;
      const rms = (s: Float32Array) => Math.sqrt(s.slice(4800).reduce((sum, v) => sum + v * v, 0));
      expect(Math.abs(db(rms(y) / rms(x)))).toBeLessThan(0.05);
    }
  });
  test("of two bands the upper one's attack is lifted and the lower one left alone", () => {
    const burst = (f: number) => sine(f, 0.1, 0.3).map((v, i) => (i < 4800 ? 0 : v));
    const change = (f: number) => {
      const x = burst(f);
      const y = run(transient, { bands: "2", cross1: 800, attack2: 9, attackTime: 0.02 }, x)[0]!;
      const energy = (s: Float32Array) => s.slice(4800 + 100, 4800 + 580).reduce((sum, v) => sum + v * v, 0);
      return 10 * Math.log10(energy(y) / energy(x));
    };
    expect(change(100)).toBeLessThan(0.5);
    expect(change(6000)).toBeGreaterThan(4);
  });
  test("lifts of several bands end at full scale together", () => {
    const x = sine(60, 0.45, 0.3).map((v, i) => v + 0.45 * Math.sin((2 * Math.PI * 5000 * i) / rate));
    const y = run(transient, { bands: "3", attack: 24, attack2: 24, attack3: 24 }, x)[0]!;
    expect(Math.max(...y.map(Math.abs))).toBeLessThanOrEqual(1.0001);
  });
});
