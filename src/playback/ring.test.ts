import { expect, test } from "@jest/globals";
import { allocateRing, Ring } from "./ring";

test("blocks of a jump that the reader does not know of yet are kept for it, and those from before it go", () => {
  const memory = allocateRing(1);
  const writer = new Ring(memory);
  const reader = new Ring(memory);
  writer.push(1000, 3);
  writer.push(0, 4);
  writer.push(128, 4);
  expect(reader.ready(3)).toBe(true);
  reader.pop();
  expect(reader.ready(3)).toBe(false);
  expect(reader.ready(4)).toBe(true);
  expect(reader.frontPosition()).toBe(0);
  writer.push(5000, 5);
  expect(reader.ready(5)).toBe(true);
  expect(reader.frontPosition()).toBe(5000);
  expect(reader.filled).toBe(1);
});
