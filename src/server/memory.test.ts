import { expect, test } from "@jest/globals";
import { analysisMost, checkMemory, memoryHere } from "./memory";

/** So many mono mics over so many minutes at 48 kHz. */
const mics = (count: number, minutes: number) =>
  Array.from({ length: count }, () => ({ channels: 1, frames: minutes * 60 * 48000 }));

test("an hour of 24 mics fits 24 GB, two do not, and it is said before anything begins", () => {
  expect(() => checkMemory(mics(24, 60), 24e9)).not.toThrow();
  expect(() => checkMemory(mics(24, 120), 24e9)).toThrow(
    "this song needs 35 GB, and this machine has 24 GB. Nothing was changed.",
  );
  expect(() => checkMemory(mics(24, 4), 4e9)).not.toThrow();
});
test("what is told to fit is what is taken, to the byte", () => {
  const most = Math.floor(analysisMost(8e9) / 4);
  expect(() => checkMemory([{ channels: 1, frames: most }], 8e9)).not.toThrow();
  expect(() => checkMemory([{ channels: 1, frames: most + 1 }], 8e9)).toThrow("in memory");
});
test("this machine has memory", () => {
  expect(memoryHere()).toBeGreaterThan(1e8);
});
