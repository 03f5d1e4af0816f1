import { expect, test } from "@jest/globals";
import { analysisHeld, checkMemory, decodedBytes, memoryHere } from "./memory";

/** So many mono mics over so many minutes at 48 kHz. */
const sizes = (count: number, minutes: number) =>
  Array.from({ length: count }, () => ({ channels: 1, frames: minutes * 60 * 48000 }));
const mics = (count: number, minutes: number) => decodedBytes(sizes(count, minutes));

test("a song of 24 mics is analysed in memory, an hour of them is not, however much memory there is", () => {
  expect(mics(24, 4)).toBe(24 * 4 * 60 * 48000 * 4);
  expect(mics(24, 4)).toBeLessThan(analysisHeld(24e9));
  expect(mics(24, 60)).toBeGreaterThan(analysisHeld(1e12));
});
test("a small machine holds a quarter of its memory", () => {
  expect(analysisHeld(4e9)).toBe(1e9);
});
test("this machine has memory", () => {
  expect(memoryHere()).toBeGreaterThan(1e8);
});
test("two hours of 64 mics are analysed with 4 GB, and refused with 2 before anything begins; a song never is", () => {
  expect(() => checkMemory(sizes(64, 120), 48000, 4e9)).not.toThrow();
  // 0.7 GB, 120 times 9 MB, and 64 times 120 times 0.1 MB.
  expect(() => checkMemory(sizes(64, 120), 48000, 2e9)).toThrow(
    "needs 2.5 GB of memory, and this machine has 2.0 GB. Nothing was changed.",
  );
  expect(() => checkMemory(sizes(24, 5), 48000, 2e9)).not.toThrow();
});
