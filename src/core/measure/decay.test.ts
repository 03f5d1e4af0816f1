import { describe, expect, test } from "@jest/globals";
import { decayTime } from "./decay";

const step = 0.005;
/** Energies of an exponential decay with a T60, s. */
const decay = (t60: number, seconds: number) =>
  Array.from({ length: Math.round(seconds / step) }, (_, i) => 10 ** ((-6 * i * step) / t60));

describe("decay time", () => {
  // Source: the definition of T60; a pure exponential has the same slope everywhere.
  test.each([0.15, 0.3, 0.8])("an exponential of %p s reads so within 3 %%", (t60) => {
    expect(decayTime(decay(t60, 2), step)! / t60).toBeCloseTo(1, 1);
    expect(Math.abs(decayTime(decay(t60, 2), step)! / t60 - 1)).toBeLessThan(0.03);
  });
  test("cut short it is shorter, by a steady tone it is not told", () => {
    const cut = decay(0.8, 2).map((e, i) => (i * step > 0.2 ? 0 : e));
    expect(decayTime(cut, step)!).toBeLessThan(0.7);
    expect(
      decayTime(
        Array.from({ length: 12 }, () => 1),
        step,
      ),
    ).toBeNull();
    expect(decayTime([], step)).toBeNull();
  });
});
