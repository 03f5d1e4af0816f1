import { expect, test } from "@jest/globals";
import { told, toldWhole } from "./told";

const axis = (label: string, format?: (v: number) => string) => ({ label, min: 0, max: 1, format: format! });

test("three digits, a true minus sign, or the words of the axis", () => {
  expect(told({ label: "", min: 0, max: 1 }, -25.678)).toBe("−25.7");
  expect(
    told(
      axis("", (v) => `${v / 1000}k`),
      1234,
    ),
  ).toBe("1.23k");
});
test.each([
  ["Frequency, Hz", 807.4, "Frequency", "807 Hz"],
  ["Time from the stroke, ms, over 62 strokes", -3, "Time from the stroke", "−3 ms"],
  ["Delay of it, smp (drag the line)", 108, "Delay of it", "108 smp"],
  ["early    Offset, ms    late", -3, "Offset", "−3 ms"],
  ["Events per 2 dB", 40, "Events per 2 dB", "40"],
])("%s: the unit behind the value", (label, value, of, text) => {
  expect(toldWhole({ label, min: 0, max: 1 }, value)).toEqual({ of, text });
});
test("thousands belong to the unit", () => {
  expect(
    toldWhole(
      axis("Frequency, Hz", (v) => `${v / 1000}k`),
      1234,
    ).text,
  ).toBe("1.23 kHz");
});
