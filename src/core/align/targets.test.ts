import { describe, expect, test } from "@jest/globals";
import { noFacts, type Facts } from "../facts/facts";
import type { Piece, Song } from "../song/song";
import { testMic, testSong } from "../testing/songs";
import { alignTargets, behindOverheads, polarities } from "./targets";

const base = testSong().song;
const song: Song = {
  ...base,
  mics: [
    ...base.mics,
    { ...testMic("bottom", "snare", "bottom", 20000), reference: "snare" },
    testMic("room", "room", "close", 20000),
  ],
};
const arrival = (piece: Piece, delaySamples: number, polarity: 1 | -1) => ({
  piece,
  channel: 0,
  delaySamples,
  polarity,
  confidence: 0.9,
});
const pair = {
  polarity: -1 as const,
  delaySamples: -5,
  confidence: 0.9,
  gainDb: 6,
  strokes: 30,
  thin: false,
  driftPpm: 0,
};
const facts: Facts = {
  ...noFacts,
  pairs: { bottom: pair },
  arrivals: {
    oh: [arrival("kick", 200, 1), arrival("snare", 150, 1)],
    room: [arrival("kick", 680, 1), arrival("snare", 630, 1)],
  },
};
const at = (s: Song, f: Facts = facts) => Object.fromEntries(alignTargets(s, f));
const anchored = (values: Partial<Song["align"]>): Song => ({ ...song, align: { ...song.align, ...values } });

describe("where mics should stand", () => {
  test("close mics stay, a second one comes to its main mic, far mics are left", () => {
    expect(Object.keys(at(song))).toEqual(["bottom"]);
    expect(at(song)["bottom"]).toMatchObject({ polarity: -1, delay: 5, toward: "snare.wav" });
  });
  test("the whole kit to the overheads: every drum is held back until it arrives there, pairs stay together", () => {
    const found = at(anchored({ anchor: "overheads" }));
    expect(found["kick"]).toMatchObject({ delay: 200, polarity: 1 });
    expect(found["snare"]).toMatchObject({ delay: 150 });
    expect(found["bottom"]).toMatchObject({ delay: 155, polarity: -1 });
    expect(found["oh"]).toBeUndefined();
  });
  test("rooms come to a chosen distance behind the overheads", () => {
    expect(behindOverheads(song.mics, facts.arrivals, "room")).toBe(480); // 10 ms
    expect(at(anchored({ rooms: 4 }))["room"]!.delay).toBeCloseTo(0.004 * 48000 - 480, 6);
    expect(at(song)["room"]).toBeUndefined();
  });
  test("one drum that arrives upside down is turned over with its second mic; all of them turn the far mic over", () => {
    const one = {
      ...facts,
      arrivals: {
        ...facts.arrivals,
        oh: [arrival("kick", 200, 1), arrival("snare", 150, -1), arrival("tom1", 170, 1)],
        room: [],
      },
    };
    expect(polarities(song.mics, one.arrivals).drums.get("snare")).toBe(-1);
    expect(at(song, one)["snare"]).toMatchObject({ polarity: -1, delay: 0 });
    expect(at(song, one)["bottom"]).toMatchObject({ polarity: 1 });
    const all = {
      ...facts,
      arrivals: { ...facts.arrivals, oh: [arrival("kick", 200, -1), arrival("snare", 150, -1)] },
    };
    expect(at(song, all)["oh"]).toMatchObject({ polarity: -1 });
    expect(at(song, all)["snare"]).toBeUndefined();
  });
  test("locked mics stay, thin evidence says nothing, no move leaves the delay's range", () => {
    const locked = { ...song, mics: song.mics.map((m) => ({ ...m, locked: m.id === "bottom" })) };
    expect(at(locked)["bottom"]).toBeUndefined();
    expect(
      at(song, { ...facts, pairs: { bottom: { ...pair, thin: true, strokes: 2 } } })["bottom"],
    ).toBeUndefined();
    expect(at(song, { ...facts, pairs: { bottom: { ...pair, delaySamples: 9000 } } })["bottom"]!.delay).toBe(
      -2400,
    );
  });
});
