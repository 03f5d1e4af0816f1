import { beforeAll, describe, expect, test } from "@jest/globals";
import { randomSource } from "../src/core/signal/random";
import { levelsIn } from "../src/core/analysis/micFacts";
import { measureAudio } from "../src/core/measure/measureAudio";
import { refinePeak } from "../src/core/measure/spectrum";
import { median } from "../src/core/signal/level";
import type { Hit } from "../src/core/song/song";
import { demoSampleRate, makeDemo } from "./demoSong";
import type { SimulatedMic, Truth } from "./simulate";
import { membraneRatios, strikeTom } from "./voices";

const rate = demoSampleRate;

describe("voices", () => {
  // Zeros of the Bessel functions over the first, Abramowitz and Stegun, table 9.5.
  test("a tom rings in the ratios of an ideal membrane", () => {
    expect(membraneRatios.slice(0, 5)).toEqual([1, 1.593, 2.136, 2.295, 2.653]);
    const [y] = strikeTom({ tune: 110, decay: 0.3, whistle: 0, whistleDecay: 0 }, 0.7, randomSource(5), rate);
    const late = [y!.slice(Math.round(0.08 * rate), Math.round(0.45 * rate))];
    const lowest = refinePeak(late, 110, rate);
    expect(Math.abs(lowest / 110 - 1)).toBeLessThan(0.03);
    expect(Math.abs(refinePeak(late, 110 * 1.593, rate) / lowest - 1.593)).toBeLessThan(0.03);
    expect(Math.abs(refinePeak(late, 110 * 2.136, rate) / lowest - 2.136)).toBeLessThan(0.04);
  });
  test("no two strokes are alike", () => {
    const random = randomSource(5);
    const spec = { tune: 110, decay: 0.3, whistle: 0, whistleDecay: 0 };
    expect(strikeTom(spec, 0.7, random, rate)[0]).not.toEqual(strikeTom(spec, 0.7, random, rate)[0]);
  });
});

// Plausibility against real recordings: common practice, no source.
describe("the demo song", () => {
  let mics: SimulatedMic[];
  let truth: Truth;
  beforeAll(() => {
    ({ mics, truth } = makeDemo());
  });
  const mic = (file: string) => mics.find((m) => m.spec.file.includes(file))!;
  const levels = (file: string, piece: "snare" | "kick") => {
    const hits = truth.hits.map((h): Hit => ({
      piece: h.piece as Hit["piece"],
      time: h.timeSeconds,
      ghost: h.ghost,
      levelDb: 0,
      kind: "stroke" as const,
      sure: 1,
    }));
    return levelsIn(mic(file).channels[0]!, piece, hits, rate);
  };

  test("has 13 mics of about 75 s and the faults it promises", () => {
    expect(mics).toHaveLength(13);
    expect(truth.durationSeconds).toBeGreaterThan(70);
    expect(truth.durationSeconds).toBeLessThan(80);
    expect(truth.mics.find((m) => m.place === "bottom")!.polarity).toBe(-1);
    expect(truth.mics.find((m) => m.place === "out")).toMatchObject({ polarity: -1 });
    expect(truth.mics.filter((m) => m.unplayed).map((m) => m.piece)).toEqual(["tom2"]);
    expect(truth.hits.filter((h) => h.ghost).length).toBeGreaterThan(20);
  });
  test("close mics peak between -21 and -3 dBFS with crest factors of 14 to 32 dB", () => {
    for (const { spec, channels } of mics.filter((m) => !["overhead", "room"].includes(m.spec.piece))) {
      if (spec.piece === "tom2") continue;
      const m = measureAudio(channels, rate);
      expect(m.samplePeakDb).toBeGreaterThan(-21);
      expect(m.samplePeakDb).toBeLessThan(-3);
      expect(m.crestDb).toBeGreaterThan(14);
      expect(m.crestDb).toBeLessThan(32);
    }
  });
  test("bleed in the snare lies 12 to 30 dB under its strokes, ghosts 12 to 27 dB", () => {
    const { hits, ghosts, bleed } = levels("SN top", "snare");
    expect(median(hits) - median(bleed)).toBeGreaterThan(12);
    expect(median(hits) - median(bleed)).toBeLessThan(30);
    expect(median(hits) - median(ghosts)).toBeGreaterThan(12);
    expect(median(hits) - median(ghosts)).toBeLessThan(27);
  });
  // Speed of sound 343 m/s: overheads 1 to 1.5 m away hear the snare about 3 to 4.5 ms later.
  test("overheads hear the snare 2.5 to 4.5 ms late, rooms 9 to 16 ms", () => {
    for (const a of truth.arrivals.filter((x) => x.piece === "snare")) {
      const ms = (1000 * a.delaySamples) / rate;
      const [low, high] = a.mic.includes("OH") ? [2.5, 4.5] : [9, 16];
      expect(ms).toBeGreaterThan(low);
      expect(ms).toBeLessThan(high);
    }
  });
});
