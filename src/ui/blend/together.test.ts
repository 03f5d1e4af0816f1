import { describe, expect, test } from "@jest/globals";
import { ownersOf } from "../../core/song/graph";
import { levelParam } from "../../core/song/limits";
import { applyAll } from "../../core/song/operations";
import { testSong } from "../../core/testing/songs";
import { faderIn, fadersTogether, panIn, pansTogether, rowsBetween, switchedTogether } from "./together";

const song = applyAll(testSong().song, [
  { op: "setMic", mic: "snare", values: { level: -6 } },
  { op: "setSong", values: { sections: [{ id: "v", name: "Verse", from: 0, to: 1 }] } },
  { op: "setMic", mic: "oh", values: { levelBySection: { v: -2 } } },
]);
const owner = (id: string, of = song) => ownersOf(of).find((o) => o.id === id)!;
const three = ["kick", "snare", "oh"].map((id) => owner(id));

describe("faders that are moved together", () => {
  test("keep their differences", () => {
    const moved = applyAll(song, [fadersTogether(three, owner("kick"), -3, null)]);
    expect(["kick", "snare", "oh"].map((id) => owner(id, moved).level)).toEqual([-3, -9, -3]);
  });
  test("stay within their range, the one that is moved where it is put", () => {
    const moved = applyAll(song, [fadersTogether(three, owner("snare"), levelParam.max, null)]);
    expect(owner("snare", moved).level).toBe(levelParam.max);
    expect(owner("kick", moved).level).toBe(levelParam.max);
  });
  test("in a section move there alone, from where they are there", () => {
    const moved = applyAll(song, [fadersTogether(three, owner("oh"), -4, "v")]);
    expect(["kick", "snare", "oh"].map((id) => faderIn(owner(id, moved), "v"))).toEqual([-2, -8, -4]);
    expect(["kick", "snare", "oh"].map((id) => owner(id, moved).level)).toEqual([0, -6, 0]);
  });
  test("pans move by as much, within their range, in a section there alone; a bus stays where it is", () => {
    const mic = (id: string, of = song) => of.mics.find((m) => m.id === id)!;
    const before = ["kick", "snare", "oh"].map((id) => panIn(mic(id), null));
    const moved = applyAll(song, [
      pansTogether([...three, owner("kit")], mic("kick"), before[0]! + 30, null),
    ]);
    expect(["kick", "snare", "oh"].map((id) => panIn(mic(id, moved), null))).toEqual(
      before.map((p) => p + 30),
    );
    const end = applyAll(moved, [
      pansTogether(
        ownersOf(moved).filter((o) => three.some((t) => t.id === o.id)),
        mic("snare", moved),
        100,
        null,
      ),
    ]);
    expect(["kick", "snare", "oh"].map((id) => panIn(mic(id, end), null))).toEqual(
      before.map((p) => Math.min(100, p + 100 - before[1]!)),
    );
    const there = applyAll(song, [pansTogether(three, mic("oh"), -20, "v")]);
    expect([panIn(mic("oh", there), "v"), panIn(mic("oh", there), null)]).toEqual([-20, before[2]]);
    expect(owner("kit", moved)).toEqual(owner("kit"));
  });
  test("are muted as one step", () => {
    const muted = applyAll(song, [switchedTogether(three, { muted: true })]);
    expect(three.every((o) => owner(o.id, muted).muted)).toBe(true);
    const withKit = applyAll(song, [switchedTogether([...three, owner("kit")], { muted: true })]);
    expect(owner("kit", withKit).muted).toBe(false);
  });
});

test("rows between two are told whichever came first; one that is folded away begins anew", () => {
  const rows = three.map((o) => ({ owner: o }));
  expect(rowsBetween(rows, "kick", "snare")).toEqual(["kick", "snare"]);
  expect(rowsBetween(rows, "oh", "kick")).toEqual(["kick", "snare", "oh"]);
  expect(rowsBetween(rows, "gone", "oh")).toEqual(["oh"]);
});
