import { describe, expect, test } from "@jest/globals";
import type { Hit } from "../song/song";
import { closeCalls } from "./closeCalls";

const stroke = (time: number, ghost = false): Hit => ({
  piece: "snare",
  time,
  levelDb: 0,
  ghost,
  kind: "stroke",
  sure: 1,
});
const events = [
  { time: 1, levelDb: -8 },
  { time: 2, levelDb: -31 },
  { time: 3, levelDb: -29.5 },
  { time: 4, levelDb: -33 },
  { time: 5, levelDb: -34.5 },
];

describe("close calls", () => {
  test("events near the threshold come nearest first, named for what they are, wrong ones told", () => {
    const calls = closeCalls(events, [stroke(1), stroke(2.001, true), stroke(4)], -30);
    expect(calls.map((c) => [c.time, c.kind, c.passes, c.right])).toEqual([
      [3, "bleed", true, false],
      [2, "ghost note", false, false],
      [4, "stroke", false, false],
    ]);
    expect(closeCalls(events, [stroke(1)], -6.5)).toMatchObject([{ time: 1, passes: false, right: false }]);
  });
  test("no more than two dozen", () => {
    const many = Array.from({ length: 60 }, (_, i) => ({ time: i, levelDb: -30 + i / 100 }));
    expect(closeCalls(many, [], -30)).toHaveLength(24);
  });
});
