import { describe, expect, test } from "@jest/globals";
import { plainContext } from "../../processor";
import { make, rate } from "../../testing/runProcessor";
import { chopper } from ".";

// 120 beats a minute that slow down by a hundredth every beat.
const beats = new Float64Array(9);
for (let i = 1; i < beats.length; i++) beats[i] = beats[i - 1]! + 0.5 * rate * 1.01 ** i;
const frames = Math.ceil(beats.at(-1)!);

/** Gain of every frame. */
function gains(values: Record<string, number | string>, known = beats): Float32Array {
  const p = make(chopper, { smooth: 0.0005, ...values });
  const x = new Float32Array(48).fill(1);
  const out = new Float32Array(frames);
  for (let at = 0; at + 48 <= frames; at += 48)
    p.process([x], [out.subarray(at, at + 48)], 48, { ...plainContext(at), beats: known });
  return out;
}
/** Frames at which the gain begins to go up, or down. */
const edges = (y: Float32Array, up: boolean): number[] =>
  Array.from(y.keys()).filter((i) => {
    const by = (k: number) => (up ? y[k]! - y[k - 1]! : y[k - 1]! - y[k]!);
    return i > 1 && i < y.length - 48 && by(i) > 1e-3 && by(i - 1) < 1e-5;
  });

describe("chopper", () => {
  // The limit of the work: edges at the beats, one frame more or less, also where the tempo wanders.
  test("edges stand at the beats and half way between them", () => {
    const y = gains({ perBeat: "2", steps: 2, step1: 100, step2: 0 });
    const ups = edges(y, true);
    Array.from(beats.slice(1, -1)).forEach((b, i) => expect(Math.abs(ups[i]! - b)).toBeLessThanOrEqual(1));
    edges(y, false).forEach((frame, i) => {
      expect(Math.abs(frame - (beats[i]! + beats[i + 1]!) / 2)).toBeLessThanOrEqual(1);
    });
  });
  test("triplets and swing stand where they are counted", () => {
    const thirds = edges(gains({ perBeat: "3", steps: 3, step1: 100, step2: 0, step3: 0 }), false);
    thirds.forEach((f, i) =>
      expect(Math.abs(f - (beats[i]! + (beats[i + 1]! - beats[i]!) / 3))).toBeLessThanOrEqual(1),
    );
    const swung = edges(gains({ perBeat: "2", steps: 2, step1: 100, step2: 0, swing: 33 }), false);
    swung.forEach((f, i) =>
      expect(Math.abs(f - (beats[i]! + ((beats[i + 1]! - beats[i]!) * 1.33) / 2))).toBeLessThanOrEqual(1),
    );
  });
  test("an edge takes its time to 63 %, and no frame steps by more than that allows", () => {
    const y = gains({ perBeat: "2", steps: 2, step1: 100, step2: 0, smooth: 0.01 });
    const down = edges(y, false)[0]!;
    expect(y[down - 1 + 0.01 * rate]).toBeCloseTo(1 / Math.E, 2);
    const most = y.reduce((m, v, i) => (i ? Math.max(m, Math.abs(v - y[i - 1]!)) : m), 0);
    expect(most).toBeLessThan(1.05 / (0.01 * rate));
  });
  test("a slow movement swells over its beats", () => {
    const y = gains({ depth: 0, movement: 100, movementBeats: 8 });
    expect(y[10]).toBeCloseTo(1, 3);
    expect(y[Math.round(beats[4]!)]).toBeCloseTo(0, 3);
    expect(y[Math.round(beats[2]!)]).toBeCloseTo(0.5, 2);
  });
  test("without beats everything passes to the bit", () => {
    expect(
      gains({}, new Float64Array(0))
        .slice(0, frames - 48)
        .every((v) => v === 1),
    ).toBe(true);
  });
});
