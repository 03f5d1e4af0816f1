import { describe, expect, test } from "@jest/globals";
import { noFacts } from "../facts/facts";
import { newMic } from "../song/create";
import { noise } from "../testing/signals";
import { chainWith, judgeTreatment, treatmentsOf } from "./treatments";

const rate = 48000;
const mic = newMic({
  id: "s",
  file: "s",
  audio: "s",
  channels: 1,
  frames: 9 * rate,
  piece: "snare",
  place: "top",
  sure: 1,
});
const mains = Array.from({ length: 8 }, (_, i) => rate * (0.5 + i));
const ghosts = mains.map((m) => m + 0.25 * rate);
const bleed = mains.map((m) => m + 0.7 * rate);
const x = new Float32Array(9 * rate);
const burst = noise(9600, 3).map((v, i) => v * Math.exp(-i / 2400));
mains.forEach((f) =>
  x.set(
    burst.map((v) => 0.5 * v),
    f,
  ),
);
ghosts.forEach((f) =>
  x.set(
    burst.map((v) => 0.05 * v),
    f,
  ),
);
bleed.forEach((f) =>
  x.set(
    burst.map((v) => 0.1 * v),
    f,
  ),
);
const gate = {
  opens: "hits",
  range: 24,
  hold: 0.06,
  release: 0.04,
  attack: 0.0003,
  lookahead: 0.0025,
  threshold: -40,
};
const hits = Float64Array.from([...mains, ...ghosts]).sort();
const facts = { ...noFacts, levels: { s: { hits: [-6], ghosts: [-26], bleed: [-20] } } };
const ways = treatmentsOf({ bleed: {} }, mic, facts).map((w) => ({
  ...w,
  gate: w.gate && { ...w.gate, ...gate, range: w.id === "both" ? 12 : 24 },
}));
const judge = (id: string) => {
  const treatment = ways.find((t) => t.id === id)!;
  return judgeTreatment(chainWith(mic, treatment), [x], { mains, ghosts, bleed }, hits, rate);
};

describe("treatments side by side", () => {
  test("a gate opened by the strokes takes its range off the bleed and nothing off strokes and ghosts; what it takes off the sustain is said", () => {
    const verdict = judge("gate");
    expect(verdict.bleedDb).toBeCloseTo(-24, 0);
    expect(Math.abs(verdict.strokesDb)).toBeLessThan(0.5);
    expect([verdict.ghostsKept, verdict.ghosts]).toEqual([8, 8]);
    expect(verdict.sustainDb).toBeLessThan(-1);
  });
  test("a dynamic EQ holds down by its depth, both by more than either alone", () => {
    const [eq, both] = [judge("dynamicEq"), judge("both")];
    expect(eq.bleedDb).toBeGreaterThan(-19.5);
    expect(eq.bleedDb).toBeLessThan(-14);
    expect(both.bleedDb).toBeLessThan(eq.bleedDb - 8);
    expect(eq.ghostsKept).toBe(8);
  });
  test("a gate by level that is set too high loses the ghosts, and that is seen", () => {
    const treatment = { ...ways[0]!, gate: { ...gate, opens: "level", threshold: -12 } };
    const verdict = judgeTreatment(chainWith(mic, treatment), [x], { mains, ghosts, bleed }, hits, rate);
    expect(verdict.ghostsKept).toBe(0);
  });
  test("far mics and cymbals have none", () => {
    expect(treatmentsOf({ bleed: {} }, { ...mic, piece: "overhead" }, facts)).toEqual([]);
  });
});
