import { describe, expect, test } from "@jest/globals";
import { processorType } from "../processors";
import { driveRange, glue, rounding, soughtDrive } from "./kitFinish";

describe("the drive that is sought", () => {
  test.each([-10, 0, 3.3, 15])("of a figure that reaches it at %d dB", async (at) => {
    const asked: number[] = [];
    const found = await soughtDrive(async (drive) => {
      asked.push(drive);
      return 1 + 0.2 * (drive - at);
    }, 1);
    expect(Math.abs(found - at)).toBeLessThanOrEqual(0.11);
    expect(asked).toHaveLength(8);
  });
  test("is the end of the range where the figure never comes there", async () => {
    expect(await soughtDrive(async () => 0, 1)).toBeCloseTo(driveRange[1], 0);
    expect(await soughtDrive(async () => 9, 1)).toBeCloseTo(driveRange[0], 0);
  });
});

test("what is set is known to its processor", () => {
  for (const [type, params] of [
    ["compressor", glue],
    ["saturation", rounding],
  ] as const)
    for (const name of Object.keys(params)) expect(processorType(type).params[name]).toBeDefined();
});
