import { describe, expect, test } from "@jest/globals";
import { judgedSeconds } from "../hits/judgedStretch";
import type { Hit, Piece, Song } from "../song/song";
import { testSong } from "../testing/songs";
import { memoryStretch } from "./memoryStretch";

const rate = 1000;
const frames = 60 * rate;
/** Every sample says where in the song it lies. */
const ramp = (from = 0) => Float32Array.from({ length: frames - from }, (_, i) => from + i);
const strokes = (piece: Piece, from: number, count: number): Hit[] =>
  Array.from({ length: count }, (_, i) => ({
    piece,
    time: from + i,
    levelDb: -9,
    ghost: false,
    kind: "stroke",
    sure: 1,
  }));
const base = testSong(frames).song;
const song: Song = {
  ...base,
  sampleRate: rate,
  hits: [...strokes("kick", 2, 4), ...strokes("snare", 29, 25)],
};

describe("the stretch in which a drum is struck most", () => {
  const audio = [[ramp()], [ramp()], [ramp(), ramp()]];
  test("begins just before its strokes, and is the same of every mic", () => {
    const { from, stretch } = memoryStretch(song, audio, ["snare"]);
    expect(from).toBeGreaterThan(28 * rate);
    expect(from).toBeLessThanOrEqual(29 * rate);
    expect(stretch.map((channels) => channels.length)).toEqual([1, 1, 2]);
    for (const x of stretch.flat()) {
      expect(x).toHaveLength(judgedSeconds * rate);
      expect([x[0], x.at(-1)]).toEqual([from, from + judgedSeconds * rate - 1]);
    }
  });
  test("a file that begins later lies where it is heard, and is silent before and behind", () => {
    const late: Song = { ...song, mics: song.mics.map((m, i) => (i === 0 ? { ...m, start: 5 * rate } : m)) };
    const { from, stretch } = memoryStretch(
      late,
      [[ramp(5 * rate).slice(0, rate)], ...audio.slice(1)],
      ["kick"],
    );
    const x = stretch[0]![0]!;
    const at = (second: number) => x[second * rate - from]!;
    expect([at(4), at(5), at(6) - 0]).toEqual([0, 5 * rate, 0]);
  });
  test("of a short song is the whole of it", () => {
    const short: Song = { ...song, frames: 8 * rate, hits: strokes("kick", 1, 3) };
    const { from, stretch } = memoryStretch(short, audio, ["kick"]);
    expect([from, stretch[0]![0]!.length]).toEqual([0, 8 * rate]);
  });
});
