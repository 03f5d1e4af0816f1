import { describe, expect, test } from "@jest/globals";
import { askNet } from "../src/core/loops/strokeNet";
import { randomSource } from "../src/core/signal/random";
import { fitNet, type NetSample } from "./fitNet";

describe("a network that is fitted", () => {
  const random = randomSource(3);
  /** Two answers: both values on one side (which no line tells), and the first of them above nothing. */
  const samples = Array.from({ length: 3000 }, (): NetSample => {
    const [a, b] = [2 * random() - 1, 2 * random() - 1];
    return { x: Float32Array.of(a, b), y: [a * b > 0 ? 1 : 0, a > 0 ? 1 : 0] };
  });
  const net = fitNet(samples, "test", { hidden: 16, rounds: 40, vary: () => {} });
  test.each([0, 1])("tells answer %i of samples that it never saw", (answer) => {
    const right = Array.from({ length: 400 }, () => {
      const [a, b] = [2 * random() - 1, 2 * random() - 1];
      const truth = answer === 0 ? a * b > 0 : a > 0;
      return askNet(net, [a, b])[answer]! > 0.5 === truth;
    });
    // Whatever is linear gets half of the first right.
    expect(right.filter(Boolean).length / right.length).toBeGreaterThan(0.8);
  });
  test("the same samples give the same network", () => {
    const options = { hidden: 4, rounds: 2, vary: () => {} };
    expect(fitNet(samples, "test", options)).toEqual(fitNet(samples, "test", options));
  });
});
