import { expect, test } from "@jest/globals";
import { atMost } from "./atMost";

async function* pieces(...sizes: number[]) {
  for (const size of sizes) yield new Uint8Array(size);
}
/** Bytes that came through, and what it ended with. */
async function through(most: number, ...sizes: number[]): Promise<[bytes: number, message: string | null]> {
  let bytes = 0;
  try {
    for await (const piece of atMost(most, () => new Error("too much"))(pieces(...sizes)))
      bytes += piece.length;
  } catch (error) {
    return [bytes, (error as Error).message];
  }
  return [bytes, null];
}

test.each([
  [[3, 4], 7, [7, null]],
  [[3, 4], 8, [7, null]],
  [[3, 5], 7, [3, "too much"]],
  [[8], 7, [0, "too much"]],
  [[], 0, [0, null]],
] as const)("pieces of %j within %d bytes: %j", async (sizes, most, told) => {
  expect(await through(most, ...sizes)).toEqual(told);
});
