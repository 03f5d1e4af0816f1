import { expect, test } from "@jest/globals";
import { newBus, newSong } from "../../core/song/create";
import { applyAll } from "../../core/song/operations";
import { testMic } from "../../core/testing/songs";
import { isBeside, mixRows, unfolded } from "./mixOrder";

const mics = [
  testMic("kick", "kick", "in", 10),
  testMic("snare", "snare", "top", 10),
  testMic("bass", "context", "close", 10),
];
/** Kick and snare through a bus each into one group. */
const song = applyAll(newSong("mix", 48000, mics), [
  {
    op: "addBuses",
    buses: [
      newBus("shells", "Shells", "group"),
      ...["low", "high"].map((id) => newBus(id, id, "group", { output: "shells" })),
    ],
  },
  { op: "setMic", mic: "kick", values: { output: "low" } },
  { op: "setMic", mic: "snare", values: { output: "high" } },
]);
const names = (rows: ReturnType<typeof mixRows>) => rows.map((r) => r.owner.id);

test("a folded bus stays and everything under it goes, whatever is folded in there", () => {
  const rows = mixRows(song);
  const outer = rows.find((r, i) => r.depth === 1 && rows[i + 1]?.depth === 2)!;
  const inside = rows.slice(rows.indexOf(outer) + 1);
  const next = inside.findIndex((r) => r.depth <= outer.depth);
  const under = inside.slice(0, next < 0 ? undefined : next);
  expect(under.length).toBeGreaterThan(1);
  const { shown, hides } = unfolded(rows, new Set([outer.owner.id, under[0]!.owner.id]));
  expect(names(shown)).toEqual(names(rows.filter((r) => !under.includes(r))));
  expect(hides.has(outer.owner.id)).toBe(true);
  expect(hides.has("kick")).toBe(false);
});
test("the kit folded leaves the kit alone, and nothing folded is all of it", () => {
  const rows = mixRows(song);
  expect(unfolded(rows, new Set([rows[0]!.owner.id])).shown).toEqual([rows[0]]);
  expect(unfolded(rows, new Set()).shown).toEqual(rows);
});
test("music stands beside the kit", () => {
  expect(song.mics.map(isBeside)).toEqual([false, false, true]);
});
