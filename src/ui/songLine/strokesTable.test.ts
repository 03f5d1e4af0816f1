import { expect, test } from "@jest/globals";
import { testSong } from "../../core/testing/songs";
import type { Hit } from "../../core/song/song";
import { strokesTable } from "./strokesTable";

test("strokes are counted by drum and section, where they are heard", () => {
  const hit = (piece: Hit["piece"], time: number, ghost = false): Hit => ({
    piece,
    time,
    levelDb: -9,
    ghost,
    kind: "stroke",
    sure: 1,
  });
  const { head, rows } = strokesTable({
    ...testSong().song,
    edits: [],
    sections: [
      { id: "a", name: "Verse", from: 0, to: 1 },
      { id: "b", name: "Chorus", from: 1, to: 3 },
    ],
    hits: [hit("snare", 0.5), hit("snare", 1.5), hit("snare", 1.6, true), hit("kick", 2.9)],
  });
  expect(head).toEqual(["Drum", "Song", "Verse", "Chorus"]);
  expect(rows).toEqual([
    ["Kick", "1", "0", "1"],
    ["Snare", "2 and 1 ghost notes", "1", "1 and 1 ghost notes"],
  ]);
});
