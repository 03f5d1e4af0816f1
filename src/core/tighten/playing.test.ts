import { describe, expect, test } from "@jest/globals";
import { newTighten } from "../song/create";
import { grooves, hitAt, playGroove, steady } from "../testing/playing";
import { planEdits } from "./planEdits";
import { feelByDrum, findFills } from "./playing";
import { reviewMoves } from "./review";

const tempo = steady(120, 0.5, 60);
const settings = newTighten();

describe("the playing", () => {
  test("lean and spread by drum and section", () => {
    const hits = Array.from({ length: 40 }, (_, i) =>
      hitAt(i % 2 ? "snare" : "kick", 0.5 + i / 2 + (i % 2 ? (i < 20 ? 0.004 : 0.01) : 0)),
    );
    const sections = [
      { id: "a", name: "a", from: 0, to: 10.4 },
      { id: "b", name: "b", from: 10.4, to: 30 },
    ];
    const feel = feelByDrum(hits, tempo, settings, sections);
    const of = (piece: string, section: string | null) =>
      feel.find((f) => f.piece === piece && f.section === section)!;
    expect(of("kick", null).spread).toBeCloseTo(0, 9);
    expect(of("snare", "a").lean).toBeCloseTo(0.004, 6);
    expect(of("snare", "b").lean).toBeCloseTo(0.01, 6);
    expect(of("snare", null).spread).toBeCloseTo(0.003, 4);
    expect(of("snare", null).strokes).toBe(20);
  });
  test("a fill that runs ahead by 24 ms is found with where and by how much; a straight one does not run", () => {
    const fill = (from: number, ahead: number) =>
      Array.from({ length: 8 }, (_, i) => hitAt(i < 3 ? "snare" : "tom1", from + i / 8 - (ahead * i) / 7));
    const fills = findFills([...fill(8.5, 0.024), ...fill(16.5, 0)], tempo, settings, []);
    expect(fills.map((f) => [f.at, f.strokes])).toEqual([
      ["5.1", 8],
      ["9.1", 8],
    ]);
    expect(fills[0]!.drags).toBeCloseTo(-0.024, 3);
    expect(Math.abs(fills[1]!.drags)).toBeLessThan(0.001);
  });
  test("backbeats alone are no fill", () => {
    const { hits } = playGroove(grooves.sixteenths, () => 120, { from: 0.5 });
    expect(findFills(hits, tempo, settings, [])).toEqual([]);
  });
});

describe("review", () => {
  const hits = [0, 6, -22, 3, 12].map((o, i) => hitAt(i % 2 ? "snare" : "kick", 0.5 + i / 2 + o / 1000));
  const tighten = { ...settings, strength: 1, window: 0 };
  const edits = planEdits({ hits, tempo, tighten, sections: [], sampleRate: 48000 });
  test("lists every move once, the furthest first, with where it is heard", () => {
    const list = reviewMoves(hits, tempo, tighten, [], edits, 48000);
    expect(list.map((r) => Math.round(1000 * r.shift))).toEqual([22, -12, -6, -3]);
    list.forEach((r) => expect(Math.abs(((r.playedAt - 0.5) % 0.5) - 0)).toBeLessThan(0.001));
  });
  test("a joint that jumps comes before a farther move that is smooth", () => {
    const jumping = edits.map((e, i) => ({ ...e, jumpDb: i === 0 ? 6 : -1 }));
    const [first] = reviewMoves(hits, tempo, tighten, [], jumping, 48000);
    expect(first!.jumpDb).toBe(6);
    expect(Math.round(1000 * first!.shift)).toBe(-6);
  });
  test("nothing moved, nothing to review", () => {
    expect(reviewMoves(hits, tempo, { ...tighten, strength: 0 }, [], [], 48000)).toEqual([]);
  });
});
