import { describe, expect, test } from "@jest/globals";
import { applyAll } from "../song/operations";
import { testMic } from "../testing/songs";
import { newSong } from "../song/create";
import { placeMics, sectionsOf, startsOf } from "./place";

describe("where files begin", () => {
  test("the earliest time of day begins the song; files without one begin with it", () => {
    expect(startsOf([36001.5, 36000, null], 48000)).toEqual([72000, 0, 0]);
    expect(startsOf([null, null], 48000)).toEqual([0, 0]);
  });
  test("a file from another part of the day is no late start", () => {
    expect(startsOf([100, 100 + 7 * 3600], 48000)).toEqual([0, 0]);
  });
  test("mics are put in place by operations that only name what changes", () => {
    const mics = [36000, 36002].map((timeReference, i) => ({
      ...testMic(`m${i}`, "kick", "in", 1000),
      timeReference,
    }));
    const song = newSong("late", 1000, mics);
    const operations = placeMics(song.mics, song.sampleRate);
    expect(operations).toEqual([{ op: "setMic", mic: "m1", values: { start: 2000 } }]);
    const placed = applyAll(song, operations);
    expect(placed.frames).toBe(3000);
    expect(placeMics(placed.mics, placed.sampleRate)).toEqual([]);
  });
});

describe("sections of markers", () => {
  test("each goes to the next, the last to the end; those without a name are counted", () => {
    const markers = [
      { frame: 0, name: "intro" },
      { frame: 500, name: "" },
    ];
    expect(sectionsOf(markers, 2000, 1000)).toEqual([
      { id: "section1", name: "intro", from: 0, to: 0.5 },
      { id: "section2", name: "Part 2", from: 0.5, to: 2 },
    ]);
  });
  test("markers behind the end and doubled ones are passed over, long names cut", () => {
    const markers = [10, 10, 5000].map((frame) => ({ frame, name: "x".repeat(200) }));
    const sections = sectionsOf(markers, 2000, 1000);
    expect(sections).toHaveLength(1);
    expect(sections[0]!.name).toHaveLength(80);
  });
});
