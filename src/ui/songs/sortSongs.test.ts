import { expect, test } from "@jest/globals";
import type { SongEntry } from "../../contract";
import { found, sorted } from "./sortSongs";

const song = (title: string, mics: number, updatedAt: string): SongEntry => ({
  id: title,
  title,
  mics,
  seconds: mics,
  bytes: mics,
  updatedAt,
});
const songs = [
  song("Take 10", 8, "2026-02-01"),
  song("Take 2", 24, "2026-03-01"),
  song("Été", 8, "2026-01-01"),
];
const names = (list: readonly SongEntry[]) => list.map((s) => s.title);

test("titles are found by words in any order, whatever capitals and accents", () => {
  expect(names(found(songs, "ete"))).toEqual(["Été"]);
  expect(names(found(songs, " 2 TAKE"))).toEqual(["Take 2"]);
  expect(names(found(songs, ""))).toEqual(names(songs));
  expect(found(songs, "take x")).toEqual([]);
});
test("numbers in titles count as numbers; what is alike stands by title", () => {
  expect(names(sorted(songs, "title", false))).toEqual(["Été", "Take 2", "Take 10"]);
  expect(names(sorted(songs, "mics", false))).toEqual(["Été", "Take 10", "Take 2"]);
  expect(names(sorted(songs, "updatedAt", true))).toEqual(["Take 2", "Take 10", "Été"]);
});
