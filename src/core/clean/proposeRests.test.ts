import { describe, expect, test } from "@jest/globals";
import { applyOperation } from "../song/operations";
import { isDecided } from "../proposals/decided";
import { processorOf } from "../song/create";
import type { Hit, Piece, Song } from "../song/song";
import { randomSource } from "../signal/random";
import { testSong } from "../testing/songs";
import { proposeRests, restOf, strokesInRests } from "./proposeRests";

const hits = (piece: Piece, from: number, count: number): Hit[] =>
  Array.from({ length: count }, (_, i) => ({
    piece,
    time: from + 0.25 * i,
    levelDb: -20,
    ghost: false,
    kind: "stroke",
    sure: 1,
  }));
const plain = testSong().song;
/** The kick's mic is the hat's here. */
const withHat = (found: readonly Hit[]): Song => ({
  ...plain,
  mics: plain.mics.map((m) =>
    m.id === "kick" ? { ...m, piece: "hat", place: "close", file: "hat.wav" } : m,
  ),
  hits: found,
});

describe("a hat's mic while the ride is played", () => {
  const song = withHat([...hits("hat", 1, 20), ...hits("ride", 10, 20), ...hits("snare", 10, 9)]);
  test("is turned down by a gate that its strokes open", () => {
    expect(strokesInRests(song.hits, "hat", 0.31)).toHaveLength(20);
    const [proposal, ...others] = proposeRests(song);
    expect(others).toEqual([]);
    expect(proposal!.sentence).toContain(
      "Turn hat.wav down where the hat rests for 0.31 s: it hears 20 strokes of ride",
    );
    const taken = applyOperation(song, proposal!.operation).song;
    expect(processorOf(taken.mics[0]!, "gate")).toMatchObject({
      on: true,
      params: { opens: "hits", range: 18, hold: 0.31 },
    });
    expect(isDecided(taken, proposal!)).toBe(true);
  });
  test("stays as it is where both are played at once, where little is, and where it is never played", () => {
    expect(proposeRests(withHat([...hits("hat", 1, 40), ...hits("ride", 1, 40)]))).toEqual([]);
    expect(proposeRests(withHat([...hits("hat", 1, 20), ...hits("ride", 10, 5)]))).toEqual([]);
    const never: Song = { ...song, mics: song.mics.map((m) => ({ ...m, unplayed: true })) };
    expect(proposeRests(never)).toEqual([]);
  });
});

test("a cymbal rests when it is silent for longer than it usually is between strokes", () => {
  expect(restOf([0, 0.5, 1, 1.5, 6])).toBe(0.63);
  expect(restOf([0, 0.1, 0.2])).toBe(0.3);
  expect(restOf([0, 5])).toBe(1);
});

// By the plain definition: no stroke of its own in the time before, nor just behind.
test("strokes in rests are those that lie far from every stroke of the cymbal's own, in whatever order they come", () => {
  const next = randomSource(11);
  for (let round = 0; round < 40; round++) {
    const all = Array.from({ length: 60 }, (): Hit => {
      const piece = (["hat", "ride", "crash", "snare"] as const)[Math.floor(4 * next())]!;
      return { ...hits(piece, 20 * next(), 1)[0]! };
    });
    const rest = 0.3 + 0.7 * next();
    const own = all.filter((h) => h.piece === "hat");
    const plain = all.filter(
      (h) =>
        ["ride", "crash"].includes(h.piece) &&
        own.every((o) => o.time <= h.time - rest || o.time >= h.time + 0.1),
    );
    const times = (list: readonly Hit[]) => list.map((h) => h.time).sort((a, b) => a - b);
    expect(times(strokesInRests(all, "hat", rest))).toEqual(times(plain));
  }
});
