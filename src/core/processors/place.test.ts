import { describe, expect, test } from "@jest/globals";
import { run } from "../testing/runProcessor";
import { impulse, noise } from "../testing/signals";
import { delay } from "./delay";
import { pan } from "./pan";
import { trim } from "./trim";

describe("trim, delay and pan", () => {
  test("trim of -6.02 dB halves", () => {
    expect(run(trim, { gain: -6.0206 }, impulse(128))[0]![0]).toBeCloseTo(0.5, 5);
  });
  test("a whole delay is an exact copy later by latency and delay", () => {
    const x = noise(8192, 9);
    const late = delay.create();
    const [y] = run(delay, { delay: 57 }, x);
    const shift = late.latency + 57;
    expect(y!.slice(shift)).toEqual(x.slice(0, x.length - shift));
  });
  // Sine law (common practice): -3.01 dB each in the middle, all power on one side at the end.
  test("pan keeps the power", () => {
    for (const position of [-100, -40, 0, 70, 100]) {
      const [l, r] = run(pan, { position }, impulse(128));
      expect(l![0]! ** 2 + r![0]! ** 2).toBeCloseTo(1, 5);
    }
    expect(20 * Math.log10(run(pan, { position: 0 }, impulse(128))[0]![0]!)).toBeCloseTo(-3.01, 2);
  });
  // Closed forms in the middle: 2^(-1/2), 2^(-3/4), 1/2 and 1.
  test.each([
    ["-3 dB", 3.0103],
    ["-4.5 dB", 4.5154],
    ["-6 dB", 6.0206],
    ["0 dB", 0],
  ])("pan law %s", (law, down) => {
    const [l, r] = run(pan, { position: 0, law }, impulse(128));
    expect(20 * Math.log10(l![0]!)).toBeCloseTo(-down, 3);
    expect(r![0]).toBeCloseTo(l![0]!, 6);
    const side = run(pan, { position: -100, law }, impulse(128));
    expect([side[0]![0], side[1]![0]]).toEqual([1, expect.closeTo(0, 6)]);
  });
});
