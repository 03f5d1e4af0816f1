import { describe, expect, test } from "@jest/globals";
import { activations } from "./activations";

const rows = (...values: number[]) => Float64Array.from(values);
const prints = [rows(1, 0.5, 0.02, 0.3), rows(0.1, 0.4, 1, 0.2)];
const ones = rows(1, 1, 1, 1);
const quiet = rows(1e-6, 1e-6, 1e-6, 1e-6);
/** What is heard when both sources sound that loud. */
const heardOf = (a: number, b: number) => prints[0]!.map((v, r) => a * v + b * prints[1]![r]!);
const solve = (heard: Float64Array, most = rows(100, 100), start = rows(0.1, 0.1)) =>
  activations(heard, quiet, prints, ones, start, most, 400);

describe("activations", () => {
  test.each([[1, 1], [3, 0.2], [0.05, 2]])("of a known mixture (%d and %d) are found: closed form", (a, b) => {
    const [x, y] = solve(heardOf(a, b));
    expect(x! / a).toBeCloseTo(1, 2);
    expect(y! / b).toBeCloseTo(1, 2);
  }); // prettier-ignore
  test("a source that is not there fades to nothing", () => {
    const [x, y] = solve(heardOf(1, 0));
    expect(x!).toBeCloseTo(1, 2);
    expect(y!).toBeLessThan(0.01);
  });
  test("none grows over what its own mic allows", () => {
    const [x] = solve(heardOf(3, 1), rows(0.5, 100));
    expect(x!).toBeLessThanOrEqual(0.5);
  });
});
