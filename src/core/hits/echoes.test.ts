import { describe, expect, test } from "@jest/globals";
import { randomSource } from "../signal/random";
import type { Hit, Piece } from "../song/song";
import { withoutEchoes } from "./echoes";

const hit = (piece: Piece, time: number): Hit => ({
  piece,
  time,
  levelDb: -20,
  ghost: false,
  kind: "stroke",
  sure: 0.9,
});
const kicks = Array.from({ length: 40 }, (_, i) => hit("kick", 1 + 0.5 * i));
const next = randomSource(7);
/** Strokes behind every fourth kick, at a lag, s, give or take. */
const behind = (piece: Piece, lag: number, scatter: number) =>
  kicks.filter((_, i) => i % 4 === 0).map((k) => hit(piece, k.time + lag + scatter * (2 * next() - 1)));

describe("what a tom's mic hears of another drum", () => {
  test("always comes as late, and is no stroke of the tom", () => {
    const bleed = behind("tom1", 0.0019, 0.0003);
    expect(withoutEchoes([...kicks, ...bleed])).toEqual(kicks);
  });
  test("leaves strokes that lie elsewhere", () => {
    const own = hit("tom1", 3.27);
    expect(withoutEchoes([...kicks, ...behind("tom1", 0.0019, 0.0003), own])).toEqual([...kicks, own]);
  });
  test("is told from a tom that is struck with the kick by hands that scatter", () => {
    const played = [...kicks, ...behind("floor", 0, 0.006)];
    expect(withoutEchoes(played)).toEqual(played);
  });
  test("is not asked of two strokes, nor of drums that carry a song", () => {
    const few = [...kicks, ...behind("tom1", 0.002, 0).slice(0, 2)];
    expect(withoutEchoes(few)).toEqual(few);
    const snare = [...kicks, ...behind("snare", 0.002, 0)];
    expect(withoutEchoes(snare)).toEqual(snare);
  });
});
