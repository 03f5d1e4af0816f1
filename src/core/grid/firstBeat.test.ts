import { describe, expect, test } from "@jest/globals";
import type { Hit } from "../song/song";
import { findFirstBeat } from "./firstBeat";

const hit = (piece: "kick" | "snare", time: number): Hit => ({
  piece,
  time,
  levelDb: -10,
  ghost: false,
  kind: "stroke",
  sure: 1,
});

/** A plain rock beat: kick on one, snare on two and four, from a beat on, one beat a second. */
const rock = (from: number, bars: number, beatsPerBar = 4): Hit[] =>
  Array.from({ length: bars }, (_, bar) => from + bar * beatsPerBar).flatMap((t) => [
    hit("kick", t),
    hit("snare", t + 1),
    hit("snare", t + 3),
  ]);

describe("the first beat that is played", () => {
  test.each(
    [1, 2, 3, 4].flatMap((parts) => Array.from({ length: 4 * parts }, (_, s) => [s, parts] as const)),
  )(
    "lies where the kick is struck, %d of %d parts of a beat on; beats of a pick-up are whole",
    (s, parts) => {
      const start = s / parts;
      const late = 0.07;
      for (const bar of [-1, 0, 1, 5]) {
        const one = start + 4 * bar + late;
        const hits = [hit("snare", one - 3), ...rock(one, 8)];
        const { first, pickUp } = findFirstBeat(hits, (t) => t - late, parts, 4);
        expect(first).toBeCloseTo(one - late - 3, 9);
        expect(pickUp).toBe(3);
      }
    },
  );
  test("without a pick-up is beat one", () => {
    const { first, pickUp } = findFirstBeat(rock(7, 8), (t) => t, 2, 4);
    expect([first, pickUp]).toEqual([7, 0]);
  });
});
