import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import type { Hit, Piece } from "../song/song";
import { aloneStrokes, heardStrokes } from "./heardStrokes";

const rate = 48000;
const hit = (piece: Piece, time: number, ghost = false): Hit => ({
  piece,
  time,
  levelDb: -6,
  ghost,
  kind: "stroke",
  sure: 1,
});
/** Bursts of 0.2 s of one noise at some times, at levels in dB. */
function bursts(strokes: readonly [time: number, db: number][], seed = 1, late = 0): Float32Array {
  const x = new Float32Array(12 * rate);
  const burst = noise(0.2 * rate, seed, 0.1);
  for (const [time, db] of strokes)
    burst.forEach((v, i) => {
      x[Math.round(time * rate) + late + i]! += v * 10 ** (db / 20);
    });
  return x;
}
const every = (from: number, step: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => from + i * step);

describe("strokes by which a drum's loudness is read", () => {
  const kicks = every(1, 1, 6).map((t) => hit("kick", t));
  test("those that no other drum comes near, while there are three", () => {
    const others = [1, 2, 3].map((t) => hit("hat", t + 0.1));
    expect(aloneStrokes([...kicks, ...others], "kick").map((h) => h.time)).toEqual([4, 5, 6]);
  });
  test("else those that no shell comes near; else all; ghost notes never", () => {
    const hats = every(1, 1, 6).map((t) => hit("hat", t + 0.05));
    expect(aloneStrokes([...kicks, ...hats, hit("snare", 2.1)], "kick").map((h) => h.time)).toEqual([
      1, 3, 4, 5, 6,
    ]);
    const snares = every(1, 1, 6).map((t) => hit("snare", t));
    expect(aloneStrokes([...kicks, ...snares, hit("kick", 7.5, true)], "kick")).toHaveLength(6);
    expect(aloneStrokes(snares, "kick")).toEqual([]);
  });
  test("of a long song sixty, spread over it", () => {
    const many = every(0, 1, 600).map((t) => hit("kick", t));
    const kept = aloneStrokes(many, "kick");
    expect(kept).toHaveLength(60);
    expect(kept[59]!.time).toBeGreaterThan(580);
  });
});

describe("how loud drums are in a mic", () => {
  const [kicks, snares] = [every(1, 1, 6), every(1.5, 1, 6)];
  const hits = [...kicks.map((t) => hit("kick", t)), ...snares.map((t) => hit("snare", t))];
  const both = [
    ...kicks.map((t) => [t, -3] as [number, number]),
    ...snares.map((t) => [t, -15] as [number, number]),
  ];

  test("a close mic tells of its own drum, 6 dB for twice the amplitude", () => {
    const at = (db: number) =>
      heardStrokes({ piece: "kick", lateBy: 0 }, [bursts(kicks.map((t) => [t, db]))], hits, rate)!.heard;
    expect(Object.keys(at(0))).toEqual(["kick"]);
    expect(at(0).kick! - at(-6.02).kick!).toBeCloseTo(6.02, 2);
  });
  test("a far mic tells of every drum; both sides of a pair add up as BS.1770 has it", () => {
    const x = bursts(both);
    const one = heardStrokes({ piece: "overhead", lateBy: 0 }, [x], hits, rate)!;
    expect(one.heard.kick! - one.heard.snare!).toBeCloseTo(12, 1);
    expect(one.together).toBeNull();
    const two = heardStrokes({ piece: "overhead", lateBy: 0 }, [x, x], hits, rate)!;
    expect(two.heard.kick! - one.heard.kick!).toBeCloseTo(10 * Math.log10(2), 6);
  });
  test("a second mic is compared where it arrives, turned as it is", () => {
    const strokes = kicks.map((t) => [t, 0] as [number, number]);
    const main = { audio: bursts(strokes), delaySamples: 300, polarity: -1 as const };
    const late = bursts(
      strokes.map(([t]) => [t, -9]),
      1,
      300,
    ).map((v) => -v);
    const mic = { piece: "kick" as const, lateBy: 300 };
    expect(heardStrokes(mic, [late], hits, rate, main)!.together).toBeCloseTo(1, 2);
    expect(heardStrokes(mic, [late], hits, rate, { ...main, polarity: 1 })!.together).toBeCloseTo(-1, 2);
    const other = bursts(strokes, 9, 300);
    expect(Math.abs(heardStrokes(mic, [other], hits, rate, main)!.together!)).toBeLessThan(0.1);
  });
  test("nothing is told of a layer, of music beside the kit, or of two strokes", () => {
    const x = [bursts(both)];
    for (const piece of ["sample", "context"] as const)
      expect(heardStrokes({ piece, lateBy: 0 }, x, hits, rate)).toBeNull();
    expect(heardStrokes({ piece: "kick", lateBy: 0 }, x, hits.slice(0, 2), rate)).toBeNull();
  });
});
