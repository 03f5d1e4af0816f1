import { describe, expect, test } from "@jest/globals";
import { clock, decibels, framesToCm, readTyped, signed, withUnit } from "./format";

describe("typed values", () => {
  // 343 m/s at 20 degrees Celsius (any physics handbook): 41 cm are 57.38 frames at 48 kHz, 1.2 ms are 57.6.
  test.each([
    ["57 smp", "smp", 57],
    ["57", "smp", 57],
    ["1.2 ms", "smp", 57.6],
    ["41 cm", "smp", 57.376],
    ["−0.41 m", "smp", -57.376],
    ["5", "s", 0.005],
    ["5 ms", "s", 0.005],
    ["0.5 s", "s", 0.5],
    ["2.5k", "Hz", 2500],
    ["2,5 kHz", "Hz", 2500],
    ["-12 dB", "dB", -12],
    ["4:1", ":1", 4],
    ["80 %", "%", 80],
  ] as const)("%s in %s is %d", (text, unit, value) => {
    expect(readTyped(text, unit, 48000)).toBeCloseTo(value, 3);
  });
  test.each([
    ["nine", "smp"],
    ["", "dB"],
    ["5 cm", "s"],
    ["1.2.3", "Hz"],
    ["9 lightyears", "smp"],
  ] as const)("%p in %s is no value", (text, unit) => {
    expect(readTyped(text, unit, 48000)).toBeNull();
  });
  test("what is shown can be typed again", () => {
    for (const [value, unit] of [
      [0.0043, "s"],
      [1.5, "s"],
      [440, "Hz"],
      [12500, "Hz"],
      [-18.5, "dB"],
      [3, ":1"],
    ] as const)
      expect(readTyped(withUnit(value, unit), unit, 48000)).toBeCloseTo(value, 6);
  });
});
test("a frame at 48 kHz is 7.1 mm", () => expect(framesToCm(1, 48000)).toBeCloseTo(0.7146, 4));
test("figures carry their signs and no negative zero", () => {
  expect([signed(1.25, 1), signed(-0.04, 1), signed(-3, 0)]).toEqual(["+1.3", "±0.0", "−3"]);
  expect([decibels(-200), decibels(-6.02)]).toEqual(["−∞", "−6.0"]);
  expect([clock(0), clock(59.96), clock(61.25)]).toEqual(["0:00.0", "1:00.0", "1:01.3"]);
});
