import { describe, expect, test } from "@jest/globals";
import { noise } from "../../core/testing/signals";
import { BusSum } from "./busSum";

const frames = 200_000;
const pair = (seed: number) => [noise(frames, seed, 0.3), noise(frames, seed + 50, 0.3)];
const [drums, cymbals] = [pair(1), pair(2)];
/** The kit, off by `more` in one frame of the right side. */
const kitWith = (more: number, at: number) =>
  drums.map((x, ch) => x.map((v, i) => v + cymbals[ch]![i]! + (ch === 1 && i === at ? more : 0)));

/** Sends all in blocks of different lengths, the kit behind the buses as one with more latency does. */
function leftOf(kit: readonly Float32Array[]): number {
  const sum = new BusSum(["kit", "a", "b"]);
  const sent = { a: 0, b: 0, kit: 0, other: 0 };
  const send = (name: keyof typeof sent, sign: 1 | -1, channels: readonly Float32Array[], count: number) => {
    const from = sent[name];
    sent[name] = Math.min(frames, from + count);
    if (sent[name] > from)
      sum.take(
        name,
        sign,
        channels.map((x) => x.subarray(from, sent[name])),
      );
  };
  while (sent.kit < frames) {
    send("a", 1, drums, 4096);
    send("b", 1, cymbals, 3000);
    if (sent.a > 9000) send("kit", -1, kit, 2048);
    send("other", 1, drums, 500);
  }
  send("b", 1, cymbals, frames);
  return sum.peak;
}

describe("what the kit leaves of the sum of its buses", () => {
  test("nothing but rounding where it is their sum", () => {
    expect(leftOf(kitWith(0, 0))).toBeLessThan(1e-7);
  });
  test.each([0, 70_000, frames - 1])("a frame that differs is found, wherever it lies: %d", (at) => {
    expect(leftOf(kitWith(0.25, at))).toBeCloseTo(0.25, 6);
  });
});
