import { describe, expect, test } from "@jest/globals";
import { beatSampleRate, makeBeat } from "../../../demo/beatSong";
import { siSdr } from "../../../demo/cleanScore";
import { gainToDb, median, peakOf } from "../signal/level";
import { applyOperation } from "../song/operations";
import { largestDifference, noise } from "../testing/signals";
import { testMic, testSong } from "../testing/songs";
import { findLoopStrokes, hitsOfLoop } from "./findLoopStrokes";
import { loopApart } from "./loopApart";
import { loopDrums, type LoopDrum } from "./loopDrums";
import { bandCount, loopLooks } from "./loopLooks";
import { apartOperation, loopPartNames } from "./loopParts";
import { askNet } from "./strokeNet";
import { takeApart } from "./takeApart";

const rate = beatSampleRate;
const { files, stems, strokes } = makeBeat();
/** As a file of 24 bits holds it. */
const loop = files[0]!.channels.map((x) => x.map((v) => Math.round(v * 2 ** 23) / 2 ** 23));
const timesOf = (drum: LoopDrum) => strokes.filter((s) => s.drum === drum).map((s) => s.time);
const quiet = strokes.filter((s) => s.ghost).map((s) => s.time);
const times = { kick: timesOf("kick"), snare: timesOf("snare"), hat: timesOf("hat") };

/** Precision and recall as one figure. */
function found(drum: LoopDrum, said: readonly number[], within = 0.02): number {
  const right = said.filter((t) => times[drum].some((u) => Math.abs(u - t) <= within)).length;
  return (2 * right) / (said.length + times[drum].length);
}
const energy = (x: Float32Array, time: number) => {
  const at = Math.round(time * rate);
  return x.subarray(at, at + rate / 10).reduce((sum, v) => sum + v * v, 0);
};

describe("a loop of sounds that nothing was fitted on", () => {
  const { strokes: said } = findLoopStrokes(loop, rate);
  test.each([
    ["kick", 0.95],
    ["snare", 0.9],
    ["hat", 0.85],
  ] as const)("strokes of the %s are told, F %d at 20 ms", (drum, least) => {
    expect(
      found(
        drum,
        said.filter((s) => s.drum === drum).map((s) => s.time),
      ),
    ).toBeGreaterThanOrEqual(least);
  });
  test("as those of a song they begin where the loop does, softer snares as ghost notes", () => {
    const hits = hitsOfLoop({ strokes: said, strange: [] }, 2);
    expect(hits).toHaveLength(said.length);
    expect(hits[0]!.time).toBeCloseTo(said[0]!.time + 2, 9);
    // One stroke a bar is played 14 dB softer than the others.
    const soft = hits.filter((h) => h.ghost).map((h) => h.time - 2);
    expect(soft.length).toBeGreaterThan(5);
    expect(soft.every((t) => quiet.some((q) => Math.abs(q - t) < 0.02))).toBe(true);
  });
});

describe("taken apart", () => {
  const parts = takeApart(loop, rate, times);
  test("the parts add up to the loop to the bit", () => {
    loop.forEach((x, ch) => {
      const sum = new Float32Array(x.length);
      for (const name of loopPartNames) parts[name][ch]!.forEach((v, i) => (sum[i] = sum[i]! + v));
      expect(largestDifference(sum, x)).toBe(0);
    });
    expect(peakOf(parts.kick[0]!)).toBeGreaterThan(0.1);
  });
  test.each(["kick", "snare"] as const)("the %s comes out with an SI-SDR of 8 dB or more", (drum) => {
    expect(siSdr(stems[drum][0]!, parts[drum][0]!)).toBeGreaterThan(8);
  });
  test.each(["kick", "snare"] as const)(
    "raising the %s by 6 dB raises it by that and no other stroke",
    (drum) => {
      const raised = loop[0]!.map((v, i) => v + (10 ** (6 / 20) - 1) * parts[drum][0]![i]!);
      const change = (time: number) => 10 * Math.log10(energy(raised, time) / energy(loop[0]!, time));
      const alone = strokes.filter((s) => strokes.every((o) => o === s || Math.abs(o.time - s.time) > 0.09));
      const of = (own: boolean) => alone.filter((s) => (s.drum === drum) === own).map((s) => change(s.time));
      const own = of(true).length > 0 ? of(true) : times[drum].map(change);
      expect(median(own)).toBeGreaterThan(5);
      expect(median(own)).toBeLessThan(7);
      expect(median(of(false).map(Math.abs))).toBeLessThan(1);
    },
  );
  test("a drum that is not struck has nothing, and silence is refused in words", () => {
    const without = takeApart(loop, rate, { ...times, hat: [] });
    expect(gainToDb(peakOf(without.hat[0]!))).toBeLessThan(-100);
    expect(() => loopApart({ channels: [new Float32Array(rate)], sampleRate: rate, known: null })).toThrow(
      "no stroke of kick, snare or hat",
    );
    expect(() => loopApart({ channels: [new Float32Array(10)], sampleRate: rate, known: null })).toThrow(
      "stays whole",
    );
  });
});

test("in a song the parts stand where the loop stood, it is muted, and one step back all is as before", () => {
  const { song: kit } = testSong();
  const mic = { ...testMic("l", "loop", "pair", 20000, 2), level: -3 };
  const song = { ...kit, mics: [...kit.mics, mic] };
  const ids = loopPartNames.map((name) => ({ name, id: `l-${name}`, audio: "a" }));
  const hits = hitsOfLoop(
    { strokes: loopDrums.map((drum) => ({ drum, time: 0.1, levelDb: -6, sure: 0.9 })), strange: [] },
    0,
  );
  const { song: apart, inverse } = applyOperation(song, apartOperation(song, mic, ids, hits));
  expect(apart.mics.filter((m) => m.id.startsWith("l-")).map((m) => [m.file, m.piece, m.level])).toEqual([
    ["l kick.wav", "kick", -3],
    ["l snare.wav", "snare", -3],
    ["l hat.wav", "hat", -3],
    ["l rest.wav", "loop", -3],
  ]);
  expect(apart.mics.find((m) => m.id === "l")!.muted).toBe(true);
  // The kit has a kick and a snare of its own: only the hat's strokes are news.
  expect(apart.hits.map((h) => h.piece)).toEqual(["kick", "hat", "snare"]);
  expect(applyOperation(apart, inverse).song).toEqual(song);
  expect(() => apartOperation(song, kit.mics[0]!, ids, hits)).toThrow("is no loop");
});

test("a network answers as its weights say", () => {
  const net = {
    origin: "",
    mean: [1, 0],
    spread: [2, 1],
    hidden: [
      [1, 1],
      [-1, 0],
    ],
    hiddenBias: [0, 0.5],
    answers: [[1, 2]],
    answerBias: [-1],
  };
  // (3 - 1) / 2 = 1: hidden 1 + 2 = 3 and max(0, -1 + 0.5) = 0; 1 / (1 + exp(-(3 - 1))).
  expect(askNet(net, [3, 2])).toEqual([1 / (1 + Math.exp(-2))]);
});

test.each([8000, 44100, 96000])("a loop at %i Hz is looked at in all bands that it has", (sampleRate) => {
  const { levels, looks } = loopLooks([noise(sampleRate, 2)], sampleRate);
  expect(levels.every((v) => Number.isFinite(v))).toBe(true);
  // What lies above half the rate is silent; white noise is in every band below.
  const middle = Math.floor(looks / 2) * bandCount;
  expect(levels[middle + 3]! > -60).toBe(true);
  expect(levels[middle + bandCount - 1]! > -60).toBe(sampleRate > 8000);
});

test("noise is no loop of drums", () => {
  const { strokes: said } = findLoopStrokes([noise(3 * rate, 4)], rate);
  expect(said.length).toBeLessThan(6);
});
