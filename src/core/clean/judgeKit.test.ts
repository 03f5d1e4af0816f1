import { describe, expect, test } from "@jest/globals";
import { askBelow } from "../gather/labelQuestions";
import { noFacts, type Facts } from "../facts/facts";
import { bleedSong } from "../testing/bleedSong";
import type { Hit, Piece, Song } from "../song/song";
import { cancelStretch } from "./cancelStretch";
import { judgedMoments } from "./judgedMoments";
import { cancelledMoment, digestKit, judgeKit } from "./judgeKit";

const { song, audio } = bleedSong();
const levels = { hits: [-6, -7, -5], ghosts: [], bleed: [-20, -24, -22, -30] };
const facts: Facts = { ...noFacts, levels: { kick: levels, snare: levels } };
const judge = async (s: Song) => {
  const digest = await digestKit(s, audio, async (asks) => asks.map(cancelledMoment));
  return judgeKit({ song: s, facts, digest });
};
const hit = (piece: Piece, time: number): Hit => ({
  piece,
  time,
  levelDb: -8,
  ghost: false,
  kind: "stroke",
  sure: 1,
});

describe("moments by which cleaning is judged", () => {
  test("hold every drum that is struck, the rare one too, and do not overlap", () => {
    const kicks = Array.from({ length: 100 }, (_, i) => hit("kick", 0.5 + i));
    const toms = [hit("tom1", 81), hit("tom1", 82)];
    const starts = judgedMoments({ hits: [...kicks, ...toms], frames: 110 * 48000, sampleRate: 48000 });
    expect(starts.some((s) => s < 80.7 && s + 4 > 82.4)).toBe(true);
    starts.forEach((s, i) => i > 0 && expect(s - starts[i - 1]!).toBeGreaterThanOrEqual(4));
  });
  test("there are none without strokes", () => {
    expect(judgedMoments({ hits: [], frames: 48000, sampleRate: 48000 })).toEqual([]);
  });
});

describe("cleaning that is judged before it is proposed", () => {
  test("where it takes bleed and leaves the strokes, the strongest way is taken, with what it does", async () => {
    const { kick, snare } = await judge(song);
    expect(kick!.way).toBe("gated");
    expect(snare!.way).toBe("cancelled");
    for (const { verdict } of [kick!, snare!]) {
      expect(verdict.bleedDb).toBeLessThan(-10);
      expect(Math.abs(verdict.strokesDb)).toBeLessThan(0.5);
    }
  });
  test("a label or strokes that are unsure are not gated by", async () => {
    const unsure = { ...song, mics: song.mics.map((m) => ({ ...m, sure: askBelow - 0.1 })) };
    expect((await judge(unsure))["kick"]!.way).toBe("cancelled");
    const doubtful = { ...song, hits: song.hits.map((h) => ({ ...h, sure: 0.7 })) };
    expect((await judge(doubtful))["kick"]!.way).toBe("cancelled");
  });
  test("nothing is left to propose where the strokes were told wrong: cancelling takes what is the drum's", async () => {
    // Every stroke carries the other drum's name, as after two labels were mixed up.
    const other = (p: Piece): Piece => (p === "kick" ? "snare" : "kick");
    const hits = song.hits.map((h) => ({ ...h, piece: other(h.piece) }));
    const { kick, snare } = await judge({ ...song, hits });
    expect([kick!.way, snare!.way]).toEqual(["none", "none"]);
  });
  test("a kit that nobody has analysed is not judged", async () => {
    expect(await judge({ ...song, bleed: {} })).toEqual({});
  });
});

test("what was recorded is cancelled by the strokes as they were recorded, whatever was cut since", () => {
  const on = {
    ...song,
    mics: song.mics.map((m) => ({
      ...m,
      chain: m.chain.map((p) => (p.type === "cancel" ? { ...p, on: true } : p)),
    })),
  };
  const edits = [{ at: 48000, shift: 9600, fade: 256, likeness: 1, jumpDb: null }];
  const uncut = cancelStretch(on, audio, 0);
  // Jest's own comparison takes microseconds a sample.
  const differ = cancelStretch({ ...on, edits }, audio, 0).flatMap((channels, m) =>
    channels.filter(
      (x, ch) => x.length !== uncut[m]![ch]!.length || x.some((v, i) => v !== uncut[m]![ch]![i]),
    ),
  );
  expect(differ).toEqual([]);
});
