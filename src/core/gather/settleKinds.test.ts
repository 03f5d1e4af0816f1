import { describe, expect, test } from "@jest/globals";
import { isOneMicTwice } from "./channels";
import { settleKinds, type OpenKind } from "./settleKinds";
import { kindOdds, kinds, type Kind, type SoundModel } from "./soundModel";

const odds = (likely: Partial<Record<Kind, number>>): Record<Kind, number> =>
  Object.fromEntries(kinds.map((k) => [k, Math.log(likely[k] ?? 0.01)])) as Record<Kind, number>;
const open = (likely: Partial<Record<Kind, number>>, stereo = false): OpenKind => ({
  odds: odds(likely),
  named: null,
  stereo,
});
const kit = [open({ kick: 0.9 }), open({ snare: 0.9 }), open({ tom: 0.9 })];
const alike = () => true;

describe("kinds of a whole kit", () => {
  test("there is one hat: the less likely one of two is what it is next", () => {
    const files = [...kit, open({ hat: 0.8 }), open({ hat: 0.5, overhead: 0.4 }), open({ overhead: 0.9 })];
    expect(settleKinds(files, alike)).toEqual(["kick", "snare", "tom", "hat", "overhead", "overhead"]);
  });
  test("two snare mics hear the same strokes; one that does not is something else", () => {
    const files = [...kit, open({ snare: 0.6, tom: 0.35 })];
    expect(settleKinds(files, alike)[3]).toBe("snare");
    expect(settleKinds(files, () => false)[3]).toBe("tom");
  });
  test("what a name tells stays", () => {
    const files = [...kit, { ...open({ hat: 0.99 }), named: "ride" as const }];
    expect(settleKinds(files, alike)[3]).toBe("ride");
  });
  test("probabilities of one mic add to one", () => {
    const model: SoundModel = {
      mean: [0],
      scale: [1],
      rows: Object.fromEntries(kinds.map((k, n) => [k, [n, -0.1 * n, 0.3]])) as unknown as SoundModel["rows"],
    };
    const p = kinds.map((k) => Math.exp(kindOdds([0.7], model)[k]));
    expect(p.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
    expect(p[kinds.length - 1]).toBe(Math.max(...p));
  });
});

describe("one mic in two channels", () => {
  const x = Float32Array.from({ length: 1000 }, (_, i) => Math.sin(i / 9));
  test("is told from a pair", () => {
    expect(isOneMicTwice([x, x.slice()])).toBe(true);
    expect(isOneMicTwice([x, x.map((v, i) => v + 0.05 * Math.sin(i / 3))])).toBe(false);
    expect(isOneMicTwice([x])).toBe(false);
    expect(isOneMicTwice([new Float32Array(9), new Float32Array(9)])).toBe(false);
  });
});
