import { describe, expect, test } from "@jest/globals";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { testSong } from "../testing/songs";
import { hitsOf, strokesMoved } from "./strokesOf";

const { song: plain } = testSong(48000);
const mic = plain.mics[0]!;
const hit = { id: "h1", piece: mic.piece, time: 0.5, velocity: 100, sure: 1, ghost: false };
const song = { ...plain, hits: [hit] } as unknown as Song;
const after = (...operations: Operation[]) => applyAll(song, operations);
const told = (next: Song) => strokesMoved(song, next)(next.mics[0]!);

describe("strokes of a mic", () => {
  test("come later by the mic's distance and its own delay", () => {
    const late = { ...song, mics: song.mics.map((m) => ({ ...m, lateBy: 30 })) };
    expect([...hitsOf(late, late.mics[0]!)]).toEqual([0.5 * song.sampleRate + 30]);
    const delayed = after({ op: "setProcessor", owner: mic.id, processor: `${mic.id}.delay`, params: { delay: 12 } }); // prettier-ignore
    expect([...hitsOf(delayed, delayed.mics[0]!)]).toEqual([0.5 * song.sampleRate + mic.lateBy + 12]);
  });

  test("are told again when they move, and not when a fader does", () => {
    expect(strokesMoved(null, song)(mic)).toBe(true);
    expect(told(after({ op: "setMic", mic: mic.id, values: { level: -6 } }))).toBe(false);
    expect(told({ ...song, hits: [{ ...hit, time: 0.6 }] as unknown as Song["hits"] })).toBe(true);
    expect(told(after({ op: "setProcessor", owner: mic.id, processor: `${mic.id}.delay`, params: { delay: 12 } }))).toBe(true); // prettier-ignore
    const other = song.mics.map((m) => (m.id === mic.id ? { ...m, piece: "ride" as const } : m));
    expect(told({ ...song, mics: other })).toBe(true);
  });
});
