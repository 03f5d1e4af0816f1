import { describe, expect, test } from "@jest/globals";
import { grooves, hitAt, playGroove, steady } from "../testing/playing";
import { randomSource } from "../signal/random";
import { quantile } from "../signal/level";
import { barAt, barLines, barOf } from "./bars";
import { lineDistance, nearestLine } from "./lines";
import { measureTempo } from "./measureTempo";
import { movedTempo, steadyTempo, tappedBpm } from "./steadyTempo";

/** Distances of meant beats from the nearest found one, s. */
const misses = (meant: readonly number[], found: readonly number[]) =>
  meant.map((b) => found.reduce((least, f) => Math.min(least, Math.abs(f - b)), Infinity));

// 70-180 bpm, 0.05 bpm and 10 ms are the limits this tool sets itself; the grooves are invented.
describe("a steady tempo", () => {
  const cases = (["rock", "sixteenths", "shuffle"] as const).flatMap((name) =>
    [70, 84, 96, 104, 118, 132, 150, 178].map((bpm) => [name, bpm] as const),
  );
  test.each(cases)(
    "%s at %d bpm: tempo within 0.05 bpm, first beat within 10 ms, neither half nor double",
    (name, bpm) => {
      for (const seed of [1, 2, 3]) {
        const played = playGroove(grooves[name], () => bpm, { seed: seed * 100 + bpm, spread: 8 });
        const found = measureTempo(played.hits, played.end)!;
        expect(Math.abs(found.bpm - bpm)).toBeLessThan(0.05);
        expect(Math.abs(found.firstBeat - 0.7)).toBeLessThan(0.01);
        expect(found).toMatchObject({ follows: false, meters: [], pickUp: 0 });
      }
    },
  );
  test.each([55, 66, 80, 100])(
    "6/8 with %d dotted quarters is told from quarters: two beats to the bar, three eighths each",
    (bpm) => {
      const played = playGroove(grooves.compound, () => bpm, { beatsPerBar: 2, seed: bpm });
      const found = measureTempo(played.hits, played.end)!;
      expect(found).toMatchObject({ compound: true, beatsPerBar: 2, pickUp: 0 });
      expect(Math.abs(found.bpm - bpm)).toBeLessThan(0.05);
      expect(quantile(misses(played.beats, found.beats), 1)).toBeLessThan(0.01);
    },
  );
  test("half time with the snare on 3 keeps its bar", () => {
    const played = playGroove(grooves.halfTime, () => 100);
    expect(measureTempo(played.hits, played.end)).toMatchObject({ pickUp: 0, compound: false });
    expect(Math.abs(measureTempo(played.hits, played.end)!.firstBeat - 0.7)).toBeLessThan(0.01);
  });
  test("a pick-up lies before the first bar", () => {
    const { hits, end } = playGroove(grooves.rock, () => 90, { from: 2 });
    const beat = 60 / 90;
    const found = measureTempo([hitAt("snare", 2 - beat), hitAt("snare", 2 - beat / 2), ...hits], end)!;
    expect(found.pickUp).toBe(1);
    expect(Math.abs(found.firstBeat - (2 - beat))).toBeLessThan(0.01);
    expect(barAt(found, 2.01)).toBe("1.1");
  });
  test("a machine's beats are found to the millisecond", () => {
    const { hits, beats, end } = playGroove(grooves.rock, () => 120, { spread: 0 });
    expect(quantile(misses(beats, measureTempo(hits, end)!.beats), 1)).toBeLessThan(0.001);
  });
  test("a typed tempo is kept, its beats are found", () => {
    const { hits, end } = playGroove(grooves.rock, () => 100);
    const found = measureTempo(hits, end, { bpm: 100 })!;
    expect(found.bpm).toBeCloseTo(100, 9);
    expect(Math.abs(found.firstBeat - 0.7)).toBeLessThan(0.01);
  });
  test("no strokes, one stroke, two strokes: no tempo", () => {
    expect(
      [[], [hitAt("kick", 1)], [hitAt("kick", 1), hitAt("snare", 2)]].map((h) => measureTempo(h, 30)),
    ).toEqual([null, null, null]);
  });
});

describe("a tempo that moves", () => {
  test.each([
    ["wanders by 3 %", (b: number) => 110 * (1 + 0.03 * Math.sin(b / 20))],
    ["wanders slowly by 1 %", (b: number) => 110 * (1 + 0.01 * Math.sin(b / 40))],
    ["quickens from 100 to 106", (b: number) => 100 + (6 * b) / 160],
    ["slows from 96 to 90", (b: number) => 96 - (6 * b) / 160],
  ])("%s: the beats follow it within 6 ms", (_, bpmAt) => {
    for (const seed of [5, 6, 7]) {
      const { hits, beats, end } = playGroove(grooves.rock, bpmAt, { bars: 40, seed });
      const found = measureTempo(hits, end)!;
      expect(found.follows).toBe(true);
      const errors = misses(beats, found.beats);
      expect(quantile(errors, 0.95)).toBeLessThan(0.006);
      expect(quantile(errors, 1)).toBeLessThan(0.012);
    }
  });
  test("it changes in the middle: both tempi, and bars begin anew", () => {
    const { hits, beats, end } = playGroove(grooves.rock, (b) => (b < 80 ? 120 : 90), { bars: 40 });
    const found = measureTempo(hits, end)!;
    expect(found.meters).toHaveLength(1);
    expect(quantile(misses(beats, found.beats), 0.95)).toBeLessThan(0.01);
  });
  test("a free opening before the count is left out", () => {
    const { hits, beats, end } = playGroove(grooves.rock, () => 120, { from: 12.3 });
    const random = randomSource(3);
    const opening = [];
    for (let t = 1; t < 10.5; t += 0.2 + 0.9 * random())
      opening.push(hitAt(random() < 0.5 ? "floor" : "snare", t));
    const found = measureTempo([...opening, ...hits], end)!;
    expect(Math.abs(found.firstBeat - 12.3)).toBeLessThan(0.01);
    expect(quantile(misses(beats, found.beats), 1)).toBeLessThan(0.005);
  });
  test("two songs with talk between them have each their own tempo", () => {
    const a = playGroove(grooves.rock, () => 120, { from: 2 });
    const b = playGroove(grooves.rock, () => 95, { from: a.end + 30, seed: 4 });
    const found = measureTempo([...a.hits, ...b.hits], b.end)!;
    expect(quantile(misses([...a.beats, ...b.beats], found.beats), 1)).toBeLessThan(0.006);
    expect(barOf(found, found.meters[0]!.beat)).toMatchObject({ beat: 1 });
  });
});

describe("bars and lines", () => {
  const tempo = steady(120, 0.5, 30);
  test("bars and beats count from one; before the first beat there is none", () => {
    const slow = steadyTempo(tempo, 60, 10);
    expect(slow.beats).toEqual([0.5, 1.5, 2.5, 3.5, 4.5, 5.5, 6.5, 7.5, 8.5, 9.5]);
    expect([0.2, 0.5, 3.6, 4.5].map((t) => barAt(slow, t))).toEqual(["0.0", "1.1", "1.4", "2.1"]);
  });
  test("a pick-up counts towards bar one; a meter that comes in begins a bar", () => {
    const song = { ...tempo, pickUp: 1, meters: [{ beat: 9, beatsPerBar: 3, compound: false }] };
    expect([0, 1, 5, 9, 12].map((b) => barOf(song, b))).toEqual([
      { bar: 0, beat: 4, compound: false },
      { bar: 1, beat: 1, compound: false },
      { bar: 2, beat: 1, compound: false },
      { bar: 3, beat: 1, compound: false },
      { bar: 4, beat: 1, compound: false },
    ]);
    expect(
      barLines(song)
        .slice(0, 4)
        .map((l) => [l.bar, l.beats]),
    ).toEqual([
      [1, 4],
      [2, 4],
      [3, 3],
      [4, 3],
    ]);
  });
  test("lines of every grid, in quarters and dotted quarters, before the first beat and behind the last", () => {
    const at = (t: number, grid: Parameters<typeof lineDistance>[2], swing = 0.5, song = tempo) =>
      Number(nearestLine(t, song, { grid, swing }).toFixed(4));
    expect([at(0.63, "1/16"), at(0.63, "1/8"), at(0.63, "1/4"), at(0.65, "1/8T")]).toEqual([
      0.625, 0.75, 0.5, 0.6667,
    ]);
    expect(at(0.78, "1/16T")).toBeCloseTo(0.75, 3);
    expect([at(0.13, "1/16"), at(31.13, "1/16")]).toEqual([0.125, 31.125]);
    const dotted = { ...tempo, compound: true };
    expect([at(0.65, "1/8", 0.5, dotted), at(0.6, "1/16", 0.5, dotted)]).toEqual([0.6667, 0.5833]);
    expect(lineDistance(1, dotted, "1/8")).toBeCloseTo(1 / 6, 9);
  });
  test("swing moves every second line: at 2/3 the eighths are a triplet's", () => {
    expect(nearestLine(0.83, tempo, { grid: "1/8", swing: 2 / 3 })).toBeCloseTo(0.5 + 1 / 3, 9);
    expect(nearestLine(0.98, tempo, { grid: "1/8", swing: 2 / 3 })).toBeCloseTo(1, 9);
  });
  test("moving the first beat moves all", () => {
    expect(movedTempo(tempo, 0.02).beats[7]! - tempo.beats[7]!).toBeCloseTo(0.02, 12);
  });
  test("taps: one that is missed changes nothing, too few say nothing", () => {
    const taps = [0, 0.5, 1.01, 1.49, 2.5, 3, 3.5];
    expect(tappedBpm(taps)!).toBeCloseTo(120, 0);
    expect(tappedBpm([0, 0.5, 1])).toBeNull();
  });
});

// Issue 11: loose players whose tempo wanders. A spread of 13 ms and 1 % of drift are what foreign sessions have.
describe("a loose player", () => {
  test("keeps the beats of the opening: being off the grid is no free opening", () => {
    for (const seed of [1, 2, 3, 4, 5, 6]) {
      const { hits, beats, end } = playGroove(grooves.sixteenths, () => 158, { seed, spread: 14, bars: 20 });
      const found = measureTempo(hits, end)!;
      expect(quantile(misses(beats, found.beats), 1)).toBeLessThan(0.02);
    }
  });
  test.each(["rock", "compound"] as const)(
    "%s that wanders by a hundredth is followed to every beat",
    (name) => {
      for (const seed of [11, 12, 13, 14]) {
        const bpmAt = (beat: number) => 97 * (1 + 0.011 * Math.sin(beat / 9));
        const beatsPerBar = name === "compound" ? 2 : 4;
        const { hits, beats, end } = playGroove(grooves[name], bpmAt, {
          seed,
          spread: 13,
          bars: name === "compound" ? 50 : 25,
          beatsPerBar,
        });
        const found = measureTempo(hits, end)!;
        expect(quantile(misses(beats, found.beats), 0.95)).toBeLessThan(0.02);
      }
    },
  );
});
