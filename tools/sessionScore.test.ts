import { describe, expect, test } from "@jest/globals";
import type { AnalysedMic, KitAnalysis } from "../src/core/analysis/analysed";
import { hitAt, steady } from "../src/core/testing/playing";
import { emptyScore, scoreAnalysis } from "./sessionScore";
import type { MicTruth, SessionTruth } from "./worlds/truth";

const micOf = (file: string, more: Partial<MicTruth>): MicTruth => ({
  file,
  piece: "snare",
  place: "top",
  silent: false,
  unplayed: false,
  main: false,
  polarity: 1,
  delaySamples: 0,
  alignSamples: 0,
  ...more,
});
const mics = [
  micOf("top.wav", { main: true }),
  micOf("btm.wav", { place: "bottom", polarity: -1, delaySamples: 12, alignSamples: 14 }),
  micOf("Tom 2.wav", { piece: "floor", place: "close", main: true, unplayed: true }),
  micOf("rack.wav", { piece: "tom1", place: "close", main: true }),
  micOf("oh.wav", { piece: "overhead", place: "left" }),
];
const strokes = Array.from({ length: 20 }, (_, i) => ({
  piece: i % 5 === 4 ? ("tom1" as const) : ("snare" as const),
  timeSeconds: 1 + 0.5 * i,
  ghost: i % 5 === 1,
}));
const truth: SessionTruth = {
  mics,
  main: {
    snare: { mic: "top.wav", channel: 0, close: true },
    tom1: { mic: "rack.wav", channel: 0, close: true },
  },
  arrivals: [
    { piece: "snare", mic: "oh.wav", channel: 0, delaySamples: 200, alignSamples: 203, polarity: 1 },
  ],
  strokes,
  tempo: {
    bpm: 120,
    drift: 0,
    grid: { beats: Array.from({ length: 24 }, (_, i) => 0.5 * i) },
    alternatives: [],
  },
};
/** What an analysis would say that knows everything. */
function oracle(): KitAnalysis {
  return {
    sampleRate: 48000,
    durationSeconds: 12,
    mics: mics.map((m): AnalysedMic => ({
      file: m.file,
      channels: 1,
      piece: m.piece,
      place: m.place as AnalysedMic["place"],
      sure: 0.95,
      silent: false,
      unplayed: m.unplayed,
      peakDbfs: -6,
      reference: m.place === "bottom" ? "top.wav" : null,
      polarity: m.polarity,
      delaySamples: m.delaySamples,
      confidence: 1,
      strokes: 10,
      driftPpm: 0,
    })),
    arrivals: [{ piece: "snare", mic: "oh.wav", channel: 0, delaySamples: 200, polarity: 1, confidence: 1 }],
    tempo: steady(120, 0, 12),
    hits: strokes.map((s) => hitAt(s.piece, s.timeSeconds, { ghost: s.ghost, sure: 0.95 })),
    events: [],
  };
}
const scored = (a: KitAnalysis) => {
  const score = emptyScore();
  scoreAnalysis(score, truth, a, true);
  return score;
};
const share = (a: KitAnalysis, row: string) => {
  const [right, all] = scored(a).shares.get(row)!;
  return right / all;
};

describe("the score of an analysis", () => {
  test("one that knows everything has everything right", () => {
    const score = scored(oracle());
    for (const [row, [right, all]] of score.shares) expect([row, right / all]).toEqual([row, 1]);
    for (const [row, values] of score.values) expect([row, Math.max(...values)]).toEqual([row, 0]);
  });
  test("a stroke that is lost and one that is invented: F-measure by hand", () => {
    const a = oracle();
    // Twelve main strokes of the snare: one lost, one half a second away from all.
    const hits = [...a.hits.slice(1), hitAt("snare", 0.3, { sure: 0.6 })];
    expect(share({ ...a, hits }, "main strokes F at 5 ms: snare")).toBeCloseTo((2 * 11) / (12 + 12), 9);
    const told = scored({ ...a, hits }).reliability.get("strokes of shells")!;
    expect([told[6]!.told, told[6]!.right]).toEqual([1, 0]);
    expect([told[9]!.told, told[9]!.right]).toEqual([19, 19]);
  });
  test("7 ms off is lost at 5 ms; a ghost note may be 20 ms off", () => {
    const a = oracle();
    const late = { ...a, hits: a.hits.map((h) => ({ ...h, time: h.time + 0.007 })) };
    expect(share(late, "main strokes F at 5 ms: snare")).toBe(0);
    expect(share(late, "ghost notes F at 20 ms")).toBe(1);
  });
  test("a mic that is turned over, a never-played tom that is called played, a wrong tom", () => {
    const a = oracle();
    const change = (file: string, more: Partial<AnalysedMic>) => ({
      ...a,
      mics: a.mics.map((m) => (m.file === file ? { ...m, ...more } : m)),
    });
    expect(share(change("btm.wav", { polarity: 1 }), "polarity of same-drum mics")).toBe(0);
    expect(
      share(change("Tom 2.wav", { unplayed: false }), "never-played mics told, none wrongly"),
    ).toBeCloseTo(4 / 5, 9);
    // The second of two toms may be called by its number; the strokes of a rack that is called otherwise follow its file.
    expect(share(change("Tom 2.wav", { piece: "tom2" }), "piece from the name")).toBe(1);
    const swapped = {
      ...change("rack.wav", { piece: "tom3" }),
      hits: a.hits.map((h) => (h.piece === "tom1" ? { ...h, piece: "tom3" as const } : h)),
    };
    expect(share(swapped, "piece from the name")).toBeCloseTo(4 / 5, 9);
    expect(share(swapped, "main strokes F at 5 ms: tom1")).toBe(1);
  });
  test("a delay is right by the way or by the best match", () => {
    const a = oracle();
    const at = (delaySamples: number) =>
      Math.max(
        ...scored({
          ...a,
          mics: a.mics.map((m) => (m.file === "btm.wav" ? { ...m, delaySamples } : m)),
        }).values.get("their delay, frames")!,
      );
    expect([at(12), at(14), at(16.5)]).toEqual([0, 0, 2.5]);
  });
  test("beats of half the tempo are half of the beats", () => {
    expect(share({ ...oracle(), tempo: steady(60, 0, 12) }, "beats within 20 ms")).toBeCloseTo(0.5, 1);
  });
});
