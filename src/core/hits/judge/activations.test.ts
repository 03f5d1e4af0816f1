import { describe, expect, test } from "@jest/globals";
import { randomSource } from "../../signal/random";
import { activations } from "./activations";
import { explainer } from "./explainer";

const rows = (...values: number[]) => Float64Array.from(values);
const prints = [rows(1, 0.5, 0.02, 0.3), rows(0.1, 0.4, 1, 0.2)];
const ones = rows(1, 1, 1, 1);
const quiet = rows(1e-6, 1e-6, 1e-6, 1e-6);
/** What is heard when both sources sound that loud. */
const heardOf = (a: number, b: number) => prints[0]!.map((v, r) => a * v + b * prints[1]![r]!);
const solve = (heard: Float64Array, most = rows(100, 100), start = rows(0.1, 0.1)) =>
  activations(heard, quiet, prints, ones, start, most, 400);

describe("activations", () => {
  test.each([
    [1, 1],
    [3, 0.2],
    [0.05, 2],
  ])("of a known mixture (%d and %d) are found: closed form", (a, b) => {
    const [x, y] = solve(heardOf(a, b));
    expect(x! / a).toBeCloseTo(1, 2);
    expect(y! / b).toBeCloseTo(1, 2);
  });
  test("a source that is not there fades to nothing", () => {
    const [x, y] = solve(heardOf(1, 0));
    expect(x!).toBeCloseTo(1, 2);
    expect(y!).toBeLessThan(0.01);
  });
  test("none grows over what its own mic allows", () => {
    const [x] = solve(heardOf(3, 1), rows(0.5, 100));
    expect(x!).toBeLessThanOrEqual(0.5);
  });
  test("the kernel says what the reference says, whatever is heard", () => {
    const random = randomSource(11);
    const list = (n: number, most: number) => Float64Array.from({ length: n }, () => most * random() ** 6);
    for (let n = 0; n < 40; n++) {
      const sources = 1 + (n % 7);
      const [floor, weights] = [list(60, 1e-6).map((v) => v + 1e-13), list(60, 1)];
      const kits = Array.from({ length: sources }, () => list(60, 1));
      const explain = explainer(floor, kits, weights);
      for (const heard of [list(60, 1), list(60, 1e-4), new Float64Array(60)]) {
        const [start, most] = [list(sources, 1).map((v) => v + 1e-12), list(sources, 3)];
        const [found, told] = [
          explain(heard, start, most, 20),
          activations(heard, floor, kits, weights, start, most, 20),
        ];
        for (let k = 0; k < sources; k++)
          expect(Math.abs(found[k]! - told[k]!)).toBeLessThanOrEqual(1e-9 * told[k]!);
      }
    }
  });
});
