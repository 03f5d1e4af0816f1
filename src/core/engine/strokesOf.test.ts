import { describe, expect, test } from "@jest/globals";
import { applyAll, type Operation } from "../song/operations";
import type { Song } from "../song/song";
import { testSong } from "../testing/songs";
import { withFree } from "../song/chain";
import { newProcessor } from "../song/create";
import { memoryReader, renderSong } from "./renderSong";
import { beatsOf, hitsOf, strokesMoved } from "./strokesOf";

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
    const delayed = after({
      op: "setProcessor",
      owner: mic.id,
      processor: `${mic.id}.delay`,
      params: { delay: 12 },
    });
    expect([...hitsOf(delayed, delayed.mics[0]!)]).toEqual([0.5 * song.sampleRate + mic.lateBy + 12]);
  });

  test("are told again when they move, and not when a fader does", () => {
    expect(strokesMoved(null, song)(mic)).toBe(true);
    expect(told(after({ op: "setMic", mic: mic.id, values: { level: -6 } }))).toBe(false);
    expect(told({ ...song, hits: [{ ...hit, time: 0.6 }] as unknown as Song["hits"] })).toBe(true);
    expect(
      told(after({ op: "setProcessor", owner: mic.id, processor: `${mic.id}.delay`, params: { delay: 12 } })),
    ).toBe(true);
    const other = song.mics.map((m) => (m.id === mic.id ? { ...m, piece: "ride" as const } : m));
    expect(told({ ...song, mics: other })).toBe(true);
  });
});

describe("beats of the song", () => {
  const tempo = {
    bpm: 120,
    firstBeat: 0,
    beatsPerBar: 4,
    compound: false,
    pickUp: 1,
    meters: [],
    follows: false,
    beats: [0, 0.05, 0.15, 0.25, 0.35],
  };
  test("begin with the first full bar", () => {
    expect([...beatsOf({ ...plain, tempo })]).toEqual([0.05, 0.15, 0.25, 0.35].map((t) => t * 48000));
  });
  test.each(["kit", "kick"])(
    "reach a chopper on %s: what is chopped in the render lies between them",
    async (owner) => {
      const { song: small, audio } = testSong(20000);
      const params = { perBeat: "1", steps: 2, step1: 100, step2: 0, smooth: 0.0005 };
      const chain = (c: Song["mics"][number]["chain"]) =>
        withFree(c, [newProcessor(owner, "chopper", true, params)]);
      const kit: Song = {
        ...small,
        tempo,
        mics: small.mics.map((m) =>
          m.id === owner ? { ...m, chain: chain(m.chain) } : { ...m, muted: m.id !== "kick" },
        ),
        buses: small.buses.map((b) => (b.id === owner ? { ...b, chain: chain(b.chain) } : b)),
      };
      const out = new Float32Array(20000);
      let at = 0;
      await renderSong(
        kit,
        memoryReader(audio),
        { kit: true, stems: false, buses: false },
        (_, [left], count) => {
          out.set(left!.subarray(0, Math.min(count, out.length - at)), at);
          at += count;
        },
      );
      const peak = (from: number, to: number) =>
        Math.max(...out.slice(from * 48000 + 500, to * 48000 - 20).map(Math.abs));
      expect(peak(0.05, 0.15)).toBeGreaterThan(0.1);
      expect(peak(0.15, 0.25)).toBeLessThan(1e-3);
      expect(peak(0.25, 0.35)).toBeGreaterThan(0.1);
    },
  );
});
