import { describe, expect, test } from "@jest/globals";
import { askBelow } from "../gather/labelQuestions";
import { noFacts, type Facts } from "../facts/facts";
import { bleedSong } from "../testing/bleedSong";
import type { Hit, Piece, Song } from "../song/song";
import { cancelStretch } from "./cancelStretch";
import { judgedMoments } from "./judgedMoments";
import { cleaningAsk, judgeKit } from "./judgeKit";

const { song, audio } = bleedSong();
const levels = { hits: [-6, -7, -5], ghosts: [], bleed: [-20, -24, -22, -30] };
const facts: Facts = { ...noFacts, levels: { kick: levels, snare: levels } };
const judge = (s: Song) => judgeKit(cleaningAsk(s, facts, audio));
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
  test("where it takes bleed and leaves the strokes, the strongest way is taken, with what it does", () => {
    const { kick, snare } = judge(song);
    expect(kick!.way).toBe("gated");
    expect(snare!.way).toBe("cancelled");
    for (const { verdict } of [kick!, snare!]) {
      expect(verdict.bleedDb).toBeLessThan(-10);
      expect(Math.abs(verdict.strokesDb)).toBeLessThan(0.5);
    }
  });
  test("a label or strokes that are unsure are not gated by", () => {
    const unsure = { ...song, mics: song.mics.map((m) => ({ ...m, sure: askBelow - 0.1 })) };
    expect(judge(unsure)["kick"]!.way).toBe("cancelled");
    const doubtful = { ...song, hits: song.hits.map((h) => ({ ...h, sure: 0.7 })) };
    expect(judge(doubtful)["kick"]!.way).toBe("cancelled");
  });
  test("nothing is left to propose where the strokes were told wrong: cancelling takes what is the drum's", () => {
    // Every stroke carries the other drum's name, as after two labels were mixed up.
    const other = (p: Piece): Piece => (p === "kick" ? "snare" : "kick");
    const hits = song.hits.map((h) => ({ ...h, piece: other(h.piece) }));
    const { kick, snare } = judge({ ...song, hits });
    expect([kick!.way, snare!.way]).toEqual(["none", "none"]);
  });
  test("a kit that nobody has analysed is not judged", () => {
    expect(judgeKit(cleaningAsk({ ...song, bleed: {} }, facts, audio))).toEqual({});
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
  expect(cancelStretch({ ...on, edits }, audio, 0)).toEqual(cancelStretch(on, audio, 0));
});
