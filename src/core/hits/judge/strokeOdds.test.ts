import { describe, expect, test } from "@jest/globals";
import { evenExcess, sureOf } from "../evidence";
import { featureCount } from "./strokeFeatures";
import { families, familyOf, logOdds, probability, type Family, type StrokeModel } from "./strokeOdds";
import weights from "./strokeWeights.json";

describe("odds of a stroke", () => {
  test("an additive line bends at its knots: worked by hand", () => {
    const model = {
      bias: -1,
      terms: [
        { knots: [2], weights: [0.5, 1] },
        { knots: [], weights: [-2] },
      ],
    };
    expect(logOdds(model, [1, 0])).toBeCloseTo(-0.5);
    expect(logOdds(model, [4, 0])).toBeCloseTo(-1 + 2 + 2);
    expect(logOdds(model, [4, 1])).toBeCloseTo(1);
  });
  test("even odds are one half; 10 dB more are ten to one", () => {
    expect(probability(0)).toBe(0.5);
    expect(sureOf("snare", evenExcess("snare"))).toBeCloseTo(0.5);
    expect(sureOf("snare", evenExcess("snare") + 10)).toBeCloseTo(10 / 11);
    expect(sureOf("tom1", evenExcess("tom1") - 20)).toBeCloseTo(1 / 101);
  });
  test("every family has its weights, one term a value, all numbers", () => {
    const models = weights as unknown as Record<Family, StrokeModel>;
    for (const family of families)
      for (const { bias, terms } of [models[family].first, models[family].second]) {
        expect(terms).toHaveLength(featureCount);
        for (const t of terms) expect(t.weights.length).toBe(t.knots.length + 1);
        expect([bias, ...terms.flatMap((t) => [...t.knots, ...t.weights])].every(Number.isFinite)).toBe(true);
      }
  });
  test("toms are judged alike, cymbals without a mic apart from those with one", () => {
    expect([
      familyOf("floor", true),
      familyOf("tom2", true),
      familyOf("crash", true),
      familyOf("hat", false),
      familyOf("crash", false),
    ]).toEqual(["tom", "tom", "cymbal", "farHat", "farCrash"]);
  });
});
