import { expect, test } from "@jest/globals";
import { processChain } from "../engine/processChain";
import { levelAt, sine } from "../testing/signals";
import { copyChain } from "./copyChains";

const rate = 48000;
const tone = { fundamental: 62, ring: 300, ringDb: 3 };
/** Level of a steady tone behind the band of a copy, dB against before. */
function passed(frequency: number): number {
  const { chain, fitted } = copyChain("crushed", tone);
  const band = chain.filter((p) => p !== fitted);
  const x = sine(frequency, 0.1, 1);
  return levelAt(processChain(band, [x], rate)[0]!, frequency, rate) - levelAt(x, frequency, rate);
}

test("a crushed middle has neither the drum's fundamental nor its air, and what lies between", () => {
  expect(passed(62)).toBeLessThan(-17);
  expect(Math.abs(passed(1000))).toBeLessThan(0.5);
  expect(passed(14000)).toBeLessThan(-12);
});
test("attacks alone: the first milliseconds come up, the tail goes, whatever the level", () => {
  const { chain, fitted } = copyChain("attack", undefined);
  expect(chain[1]).toBe(fitted);
  for (const level of [0.5, 0.05]) {
    const x = new Float32Array(rate);
    for (let i = 0; i < 0.4 * rate; i++) x[9600 + i] = level * Math.sin(0.13 * i) * Math.exp(-i / 6000);
    const y = processChain([fitted], [x], rate)[0]!;
    const peak = (z: Float32Array, from: number, to: number) =>
      20 * Math.log10(Math.max(...z.subarray(9600 + from, 9600 + to).map(Math.abs)));
    expect(peak(y, 0, 480) - peak(x, 0, 480)).toBeGreaterThan(5);
    expect(peak(y, 9600, 12000) - peak(x, 9600, 12000)).toBeLessThan(-15);
  }
});
