import { describe, expect, test } from "@jest/globals";
import { blockFrames } from "../core/engine/engine";
import { Way } from "./way";

/** Positions of the next blocks on a way. */
function walk(way: Way, blocks: number): number[] {
  const seen: number[] = [];
  while (seen.length < blocks) {
    const n = Math.min(way.blocksAhead(5), blocks - seen.length);
    for (let b = 0; b < n; b++) seen.push(way.position + b * blockFrames);
    way.advance(n);
  }
  return seen;
}
const n = blockFrames;

describe("the way of the playhead", () => {
  test("straight on without stretches", () => {
    expect(walk(new Way(77, null, false), 4)).toEqual([77, 77 + n, 77 + 2 * n, 77 + 3 * n]);
  });
  test("round a loop, entered inside it", () => {
    const way = new Way(1000 + 2 * n, [{ from: 1000, to: 1000 + 4 * n }], true);
    expect(walk(way, 6)).toEqual([2, 3, 0, 1, 2, 3].map((b) => 1000 + b * n));
  });
  test("from before a loop into it; from behind it straight on", () => {
    const loop = [{ from: 1024, to: 1024 + 2 * n }];
    expect(walk(new Way(1024 - 2 * n, loop, true), 6)).toEqual([-2, -1, 0, 1, 0, 1].map((b) => 1024 + b * n));
    expect(walk(new Way(5000, loop, true), 2)).toEqual([5000, 5000 + n]);
  });
  test("stretches once: one after another, then over; every seam is announced by what leads to the next", () => {
    const stretches = [0, 10_000].map((from) => ({ from, to: from + 2 * n }));
    const way = new Way(0, stretches, false);
    expect(way.leadOf(0)).toBeNull();
    expect(way.leadOf(n)).toBe(10_000 - n);
    expect(way.over).toBe(false);
    expect(walk(way, 4)).toEqual([0, n, 10_000, 10_000 + n]);
    expect(way.over).toBe(true);
    expect(way.leadOf(way.position)).toBeNull();
  });
  test("a stretch shorter than a block is one block", () => {
    expect(walk(new Way(0, [{ from: 0, to: 3 }], true), 3)).toEqual([0, 0, 0]);
  });
  test("one stretch that is played once begins at its start wherever the playhead was, and is over at its end", () => {
    for (const position of [0, 512, 9000]) {
      const way = new Way(position, [{ from: 512, to: 512 + 3 * n }], false);
      const passed: number[] = [];
      while (!way.over && passed.length < 9) {
        passed.push(way.position);
        way.advance(1);
      }
      expect(passed).toEqual([512, 512 + n, 512 + 2 * n]);
    }
  });
});
