import { describe, expect, test } from "@jest/globals";
import { newLayer } from "../../core/song/layer";
import type { PlanSettings } from "../../core/song/song";
import { testMic } from "../../core/testing/songs";
import { planKit, usualPlace } from "./layout";

const mics = [
  testMic("k", "kick", "in", 10),
  testMic("h", "hat", "close", 10),
  testMic("l", "overhead", "left", 10),
  testMic("r", "overhead", "right", 10),
  testMic("r2", "overhead", "right", 10),
];
const plan: PlanSettings = { mirrored: false, places: {} };
const spotOf = (piece: string, p: PlanSettings = plan) =>
  planKit(mics, p).pieces.find((x) => x.piece === piece)?.spot;

describe("the kit plan", () => {
  test("a right-handed drummer's hat stands on the left, a left-handed one's as far on the right", () => {
    expect(spotOf("hat")!.x).toBeLessThan(0);
    expect(spotOf("hat", { ...plan, mirrored: true })!.x).toBe(-spotOf("hat")!.x);
  });
  test("a piece that was moved stands where it was put; one without a mic is shown only when it was added", () => {
    expect(spotOf("hat", { ...plan, places: { hat: [10, 20] } })).toMatchObject({ x: 10, y: 20 });
    expect(spotOf("ride")).toBeUndefined();
    const added = planKit(mics, { ...plan, places: { ride: usualPlace("ride", false) } }).pieces;
    expect(added.find((p) => p.piece === "ride")).toMatchObject({ mics: [] });
  });
  test("a drum that only a layer plays is shown, with as many layers as it has", () => {
    const layer = (id: string) => ({ ...testMic(id, "sample", "close", 10), layer: newLayer("snare", []) });
    const { pieces } = planKit([...mics, layer("a"), layer("b")], plan);
    expect(pieces.find((p) => p.piece === "snare")).toMatchObject({ mics: [], layers: 2 });
    expect(pieces.find((p) => p.piece === "kick")).toMatchObject({ layers: 0 });
  });
  test("no two far mics are drawn on one another", () => {
    const places = planKit(mics, plan).far.map(({ x, y }) => `${x} ${y}`);
    expect(new Set(places).size).toBe(3);
  });
});
