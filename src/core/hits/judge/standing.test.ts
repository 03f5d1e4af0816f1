import { describe, expect, test } from "@jest/globals";
import { randomSource } from "../../signal/random";
import { bands } from "../bandEnergies";
import { Explained } from "./explained";
import type { Row } from "./instants";
import { markStanding } from "./standing";
import { newTable, rowAt } from "./table";

const energies = { hop: 0.002667, hopFrames: 128, columns: 10000, energy: [] };
const rows: Row[] = [0, 1].map((piece) => ({ piece, main: true, energies }));
/** A song in which only the kick is struck, so many times. */
const kicks = (count: number): Explained => {
  const heard = newTable(count, 2 * bands);
  for (let i = 0; i < count; i++) rowAt(heard, i).fill(1, 0, bands);
  const instants = { columns: Int32Array.from({ length: count }, (_, i) => 100 * i), heard };
  const ground = new Float64Array(2 * bands).fill(1e-9);
  return new Explained({
    pieces: ["kick", "snare"],
    rows,
    instants,
    missing: [],
    floor: ground,
    weights: ground,
    loud: [bands, bands],
    fresh: new Uint8Array(count),
    sources: [],
    prints: [],
    loudness: newTable(0, 0),
  });
};
/** How far one value stands out of others that differ by `spread`. */
function stands(value: number, spread: number, count = 41): { it: number; others: number[] } {
  const random = randomSource(4);
  const features = Array.from({ length: count }, (_, i) =>
    Float64Array.from([i === 7 ? value : 3 + spread * (2 * random() - 1), 0]),
  );
  markStanding(kicks(count), "snare", features, [{ from: 0, into: 1 }]);
  const found = features.map((f) => f[1]!);
  return { it: found[7]!, others: found.filter((_, i) => i !== 7) };
}

describe("what is usual while another drum leads", () => {
  test("8 dB are a lot where the kick's bleed hardly differs, and nothing where it differs by as much", () => {
    const steady = stands(8, 0.5);
    expect(steady.it).toBeGreaterThan(5);
    expect(Math.max(...steady.others.map(Math.abs))).toBeLessThan(2);
    expect(stands(8, 6).it).toBeLessThan(1.5);
  });
  test("the middle stands at 0, and one spread between the quarters counts 1: closed form of even numbers", () => {
    // 0 to 40: the middle is 20, the quarters 10 and 30.
    const features = Array.from({ length: 41 }, (_, i) => Float64Array.from([i, 0]));
    markStanding(kicks(41), "snare", features, [{ from: 0, into: 1 }]);
    expect(features[20]![1]).toBe(0);
    expect(features[40]![1]).toBe(1);
    expect(features[0]![1]).toBe(-1);
  });
  test("few instants tell nothing, and hopeless ones without values are left alone", () => {
    expect(stands(8, 0.5, 11).it).toBe(0);
    const features = Array.from({ length: 20 }, (_, i) => Float64Array.from(i < 15 ? [i, 0] : []));
    markStanding(kicks(20), "snare", features, [{ from: 0, into: 1 }]);
    expect(features[19]).toHaveLength(0);
    expect(features[14]![1]).toBeGreaterThan(0);
  });
});
