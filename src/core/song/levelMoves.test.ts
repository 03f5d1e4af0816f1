import { describe, expect, test } from "@jest/globals";
import { testSong } from "../testing/songs";
import { becoming } from "./become";
import { differences } from "./differences";
import { movedBy, moveLimits, thinned, withPoint, withRidden } from "./levelMoves";
import { applyAll, applyOperation } from "./operations";
import type { LevelMove } from "./song";

const point = (time: number, db: number): LevelMove => ({ time, db });

describe("the way of a fader", () => {
  const moves = [point(1, 0), point(3, -6), point(4, -6), point(5, 2)];
  test.each([
    [0, 0],
    [1, 0],
    [2, -3],
    [3.5, -6],
    [4.25, -4],
    [9, 2],
  ])("at %d s it adds %d dB", (time, db) => expect(movedBy(moves, time)).toBeCloseTo(db, 9));
  test("without points it adds nothing", () => expect(movedBy([], 3)).toBe(0));
});

describe("thinned", () => {
  test("a straight line keeps its ends alone", () => {
    const line = Array.from({ length: 200 }, (_, i) => point(i / 20, -i / 40));
    expect(thinned(line, 0.1)).toEqual([line[0], line[199]]);
  });
  test("corners stay, and nowhere it is further away than is allowed", () => {
    const ridden = Array.from({ length: 400 }, (_, i) => point(i / 40, 6 * Math.sin(i / 30) + (i % 2) * 0.1));
    const few = thinned(ridden, 0.3);
    expect(few.length).toBeLessThan(40);
    for (const { time, db } of ridden)
      expect(Math.abs(movedBy(few, time) - db)).toBeLessThanOrEqual(0.3 + 1e-9);
  });
});

describe("ridden anew", () => {
  const before = [point(0, 0), point(10, -10)];
  const ridden = [point(4, 3), point(6, 3)];
  test("in between it goes as it was ridden, before and behind as it did", () => {
    const moves = withRidden(before, ridden);
    for (const t of [0, 2, 3.9, 6.1, 8, 10]) expect(movedBy(moves, t)).toBeCloseTo(movedBy(before, t), 9);
    for (const t of [4, 5, 6]) expect(movedBy(moves, t)).toBeCloseTo(3, 9);
    expect(moves.every((m, i) => i === 0 || m.time > moves[i - 1]!.time)).toBe(true);
  });
  test("from the first frame on, and where nothing was there", () => {
    expect(withRidden([], [point(0, -2), point(1, -2)])).toEqual([
      point(0, -2),
      point(1, -2),
      point(1.05, 0),
    ]);
    expect(withRidden(before, [])).toEqual(before);
  });
  test("a song takes what comes out of it", () => {
    const { song } = testSong();
    const set = (levelMoves: LevelMove[]) => ({ op: "setMic", mic: "kick", values: { levelMoves } }) as const;
    expect(() => applyOperation(song, set(withRidden(before, ridden)))).not.toThrow();
    expect(() => applyOperation(song, set([point(2, 0), point(2, 1)]))).toThrow(
      "points of a fader ascend in time",
    );
    expect(() => applyOperation(song, set([point(2, 99)]))).toThrow(
      `between ${moveLimits.min} and ${moveLimits.max} dB`,
    );
  });
});

test("a fader that was ridden for longer than it may have points is held less finely, and to its end", () => {
  const course = (from: number) =>
    Array.from({ length: 1500 }, (_, i) => point(from + i / 10, 3 * Math.sin(i / 40) + (i % 2) / 20));
  const all = withRidden(course(0), course(200));
  expect(all.length).toBeLessThanOrEqual(moveLimits.points);
  expect(all.at(-1)!.time).toBeGreaterThan(349);
  for (const { time, db } of course(200)) expect(Math.abs(movedBy(all, time) - db)).toBeLessThan(0.25);
});

test("points are put in, moved, held within limits, and never two at one instant", () => {
  const two = withPoint([point(1, 0)], null, point(0.5, -99));
  expect(two).toEqual([point(0.5, moveLimits.min), point(1, 0)]);
  expect(withPoint(two, 0, point(2, 1))).toEqual([point(1, 0), point(2, 1)]);
  expect(withPoint(two, 0, point(1, 4))).toEqual([point(1, 4)]);
});

test("undone, become another state and told in words like anything else", () => {
  const { song } = testSong();
  const levelMoves = [point(0, 0), point(0.2, -3)];
  const { song: moved, inverse } = applyOperation(song, {
    op: "setMic",
    mic: "kick",
    values: { levelMoves },
  });
  expect(moved.mics[0]!.levelMoves).toEqual(levelMoves);
  expect(applyOperation(moved, inverse).song.mics[0]!.levelMoves ?? []).toEqual([]);
  expect(differences(song, moved)).toEqual(["kick: the fader is moved otherwise over the song"]);
  const back = applyAll(moved, [becoming(moved, song)]);
  expect(back.mics[0]!.levelMoves ?? []).toEqual([]);
  expect(applyAll(back, [becoming(back, moved)]).mics[0]!.levelMoves).toEqual(levelMoves);
});
