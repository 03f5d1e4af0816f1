import { expect, test } from "@jest/globals";
import { analysisHeld, decodedBytes, memoryHere } from "./memory";

/** So many mono mics over so many minutes at 48 kHz. */
const mics = (count: number, minutes: number) =>
  decodedBytes(Array.from({ length: count }, () => ({ channels: 1, frames: minutes * 60 * 48000 })));

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
