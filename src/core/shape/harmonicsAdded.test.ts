import { describe, expect, test } from "@jest/globals";
import { silenceDb } from "../signal/level";
import { newProcessor } from "../song/create";
import { harmonicsAdded, toldHarmonics } from "./harmonicsAdded";

const db = (x: number) => 20 * Math.log10(x);

describe("harmonics that a processor adds", () => {
  // Series of the rational tanh: x - c x^3 with c = 1/3 - 1/27; a tone of amplitude a gets a third of c a^2 / 4.
  test("soft saturation: the third by the curve's series at the drum's own level", () => {
    const state = newProcessor("m", "saturation", true, { drive: 0, output: 0 });
    for (const level of [-30, -20]) {
      const [second, third] = harmonicsAdded(state, 190.3, level, 48000);
      const a = 10 ** (level / 20);
      expect(third!).toBeCloseTo(db(((1 / 3 - 1 / 27) * a * a) / 4), 0);
      expect(second!).toBeLessThan(-100);
    }
  });
  // x bend(x) / 2 of a soft sound is x^2 / 2: a second harmonic of a / 4 against a.
  test("even harmonics set apart", () => {
    const state = newProcessor("m", "harmonics", false, { drive: 0, odd: 0, even: 100 });
    const [second, third] = harmonicsAdded(state, 100, -26, 48000);
    expect(second!).toBeCloseTo(db(10 ** (-26 / 20) / 4), 0);
    expect(third!).toBeLessThan(-90);
  });
  test("what lies beyond half the sample rate is told as silence, and a plain processor adds nothing", () => {
    const state = newProcessor("m", "trim", true, { gain: 6 });
    const all = harmonicsAdded(state, 60, -12, 48000);
    expect(all).toHaveLength(toldHarmonics.length);
    for (const one of all) expect(one).toBeLessThan(-110);
    expect(
      harmonicsAdded(state, 9000, -12, 48000)
        .slice(1)
        .every((h) => h === silenceDb),
    ).toBe(true);
  });
});
