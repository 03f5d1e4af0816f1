import { expect, test } from "@jest/globals";
import { Kept } from "./kept";

test("what was asked for last is kept, what is older is made again", async () => {
  const made: string[] = [];
  const kept = new Kept<string>(2);
  const ask = (key: string) =>
    kept.get(key, () => {
      made.push(key);
      return Promise.resolve(key.toUpperCase());
    });
  for (const key of ["a", "b", "a", "c", "a", "b"]) expect(await ask(key)).toBe(key.toUpperCase());
  expect(made).toEqual(["a", "b", "c", "b"]); // a was asked for again before c came, so that b went
});
test("one under way is shared; one that failed is asked again, and takes nothing newer with it", async () => {
  const kept = new Kept<number>(1);
  let fail = (_: Error): void => {};
  const first = kept.get("a", () => new Promise((_, reject) => (fail = reject)));
  expect(kept.get("a", () => Promise.resolve(2))).toBe(first);
  await kept.get("b", () => Promise.resolve(3));
  fail(new Error("gone"));
  await expect(first).rejects.toThrow("gone");
  expect(await kept.get("b", () => Promise.resolve(4))).toBe(3);
  expect(await kept.get("a", () => Promise.resolve(5))).toBe(5);
});
test("of heavy ones as many are kept as weigh little enough together, the newest always", async () => {
  const made: number[] = [];
  const kept = new Kept<number>(9, (n) => n, 10);
  const ask = (n: number) =>
    kept.get(String(n), () => {
      made.push(n);
      return Promise.resolve(n);
    });
  for (const n of [4, 5, 4, 3]) await ask(n); // 5 was used longest ago, and goes
  for (const n of [4, 3]) await ask(n);
  expect(made).toEqual([4, 5, 3]);
  for (const n of [20, 20, 4]) await ask(n); // heavier than all, it is kept alone
  expect(made).toEqual([4, 5, 3, 20, 4]);
});
