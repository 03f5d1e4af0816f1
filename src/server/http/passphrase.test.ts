import { afterEach, beforeEach, expect, jest, test } from "@jest/globals";
import { checkPassphrase } from "./passphrase";

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

test("guesses wait for each other and too many are not looked at, the right one goes in at once", async () => {
  await checkPassphrase("a long walk home", "a long walk home");
  const told: string[] = [];
  const guess = (n: number) =>
    checkPassphrase(`guess ${n}`, "a long walk home").catch((e: Error) => told.push(e.message));
  const guesses = Array.from({ length: 30 }, (_, n) => guess(n));
  await jest.advanceTimersByTimeAsync(0);
  // Twenty were turned away unseen; of the others each takes half a second.
  expect(told.filter((m) => m.startsWith("Too many"))).toHaveLength(20);
  await expect(checkPassphrase("a long walk home", "a long walk home")).rejects.toThrow("Too many");
  await jest.advanceTimersByTimeAsync(2400);
  expect(told.filter((m) => m.startsWith("That is not"))).toHaveLength(4);
  await checkPassphrase("a long walk home", "a long walk home");
  await jest.advanceTimersByTimeAsync(3000);
  await Promise.all(guesses);
  expect(told).toHaveLength(30);
});
