import { describe, expect, test } from "@jest/globals";
import { noise } from "../testing/signals";
import { hitAt } from "../testing/playing";
import { correctHits, decideAll, doubtsOf, strokeOf } from "./corrections";
import { decideHits } from "./decideHits";
import { hitExcess } from "./evidence";
import type { PieceEvents, StrokeEvent } from "./events";
import { withKinds } from "./kinds";
import { findStart, onsetSignals } from "./onset";
import { stackStrokes } from "./stack";

const rate = 48000;
const event = (time: number, peakDb: number, excess = 20): StrokeEvent => ({
  time,
  levelDb: peakDb,
  peakDb,
  brightness: -6,
  excess,
});
const snare = (events: StrokeEvent[], more: Partial<PieceEvents> = {}): PieceEvents => ({
  piece: "snare",
  events,
  ...more,
});
/** Backbeats around -8 dBFS with ghost notes between them. */
const groove = Array.from({ length: 40 }, (_, i) => event(0.5 * i, i % 2 ? -8 - (i % 3) : -27 - (i % 4)));

describe("strokes among events", () => {
  test("main strokes and ghost notes are parted by the gap between their levels", () => {
    const hits = decideHits(snare(groove));
    expect(hits).toHaveLength(40);
    expect(hits.every((h, i) => h.ghost === (i % 2 === 0))).toBe(true);
  });
  test("one backbeat among many whispers leaves the whispers ghosts", () => {
    const hits = decideHits(snare([...groove.filter((_, i) => i % 2 === 0), event(30, -8)]));
    expect(hits.filter((h) => !h.ghost).map((h) => h.time)).toEqual([30]);
  });
  test("what is no clearer than its limit is bleed; a higher sensitivity takes it in", () => {
    const doubtful = [...groove, event(40, -26, hitExcess("snare") - 1)];
    expect(decideHits(snare(doubtful))).toHaveLength(40);
    expect(decideHits(snare(doubtful), 2)).toHaveLength(41);
    expect(decideHits(snare(doubtful), -16)).toHaveLength(0);
  });
  test("a stroke that rises twice is one; a flam is two, and its first a grace note", () => {
    const hits = decideHits(
      snare([...groove, event(30, -8), event(30.012, -9), event(32, -20), event(32.024, -8)]),
    );
    expect(hits.filter((h) => h.time >= 30).map((h) => [h.time, h.kind])).toEqual([
      [30, "stroke"],
      [32, "grace"],
      [32.024, "stroke"],
    ]);
  });
  test("a tom of which nothing is sure is never struck; one sure stroke is enough, or many that are fairly sure", () => {
    const tom = (...excess: number[]): PieceEvents => ({
      piece: "tom1",
      events: excess.map((e, i) => event(1 + i, -12, e)),
    });
    expect(decideHits(tom(10, 11, 9))).toEqual([]);
    expect(decideHits(tom(10, 11, 30))).toHaveLength(3);
    expect(decideHits(tom(18, 17, 18, 19, 18, 17))).toHaveLength(6);
  });
  test("rolls are runs of close strokes, flams are not", () => {
    const roll = [0, 0.06, 0.12, 0.18, 0.24].map((t) => hitAt("snare", 5 + t, { levelDb: -12 }));
    expect(withKinds(roll).every((h) => h.kind === "roll")).toBe(true);
    expect(withKinds([hitAt("snare", 1, { levelDb: -20 }), hitAt("snare", 1.03)]).map((h) => h.kind)).toEqual(
      ["grace", "stroke"],
    );
    // Sixteenths at 180 bpm are 83 ms apart: a fill, no roll.
    expect(
      withKinds([0, 0.083, 0.166, 0.25].map((t) => hitAt("tom1", t))).every((h) => h.kind === "stroke"),
    ).toBe(true);
  });
});

describe("strokes on the rim", () => {
  const verse = (rims: number) =>
    snare([
      ...groove,
      ...Array.from({ length: rims }, (_, i) => ({ ...event(30 + i, -14), brightness: 8 + (i % 3) })),
    ]);
  test("are told from those on the skin by their brightness, where there are some of both", () => {
    expect(
      decideHits(verse(8))
        .filter((h) => h.kind === "rim")
        .map((h) => h.time),
    ).toEqual([30, 31, 32, 33, 34, 35, 36, 37]);
    expect(decideHits(verse(2)).some((h) => h.kind === "rim")).toBe(false);
    expect(decideHits(snare(groove)).some((h) => h.kind === "rim")).toBe(false);
  });
  test("brightness that only scatters makes none", () => {
    const scattered = groove.map((e, i) => ({ ...e, brightness: -10 + 20 * ((i * 0.618) % 1) }));
    expect(decideHits(snare(scattered)).some((h) => h.kind === "rim")).toBe(false);
  });
});

describe("corrections", () => {
  const found = [hitAt("snare", 1), hitAt("snare", 2), hitAt("kick", 2)];
  test("add, drop, move and call otherwise; other drums stay", () => {
    const list = correctHits(found, [
      { type: "add", hit: hitAt("snare", 1.5) },
      { type: "drop", piece: "snare", time: 1.003 },
      { type: "change", piece: "snare", time: 2, hit: hitAt("snare", 2.02, { ghost: true }) },
    ]);
    expect(list.map((h) => [h.piece, h.time, h.ghost])).toEqual([
      ["snare", 1.5, false],
      ["kick", 2, false],
      ["snare", 2.02, true],
    ]);
  });
  test("they outlive a new detection, even one that finds the strokes a little elsewhere", () => {
    const events: PieceEvents[] = [snare(groove.map((e) => ({ ...e, time: e.time + 0.004 })))];
    const detection = {
      sensitivity: {},
      corrections: [
        { type: "drop", piece: "snare", time: 0.5 } as const,
        { type: "add", hit: hitAt("snare", 7.77) } as const,
      ],
    };
    const hits = decideAll([hitAt("crash", 3)], events, detection);
    expect(hits.some((h) => Math.abs(h.time - 0.504) < 1e-6)).toBe(false);
    expect(hits.some((h) => h.time === 7.77)).toBe(true);
    expect(hits.some((h) => h.piece === "crash")).toBe(true);
    expect(hits).toHaveLength(41);
  });
  test("one that finds no stroke does nothing; adding where one is does not double it", () => {
    expect(correctHits(found, [{ type: "drop", piece: "snare", time: 9 }])).toHaveLength(3);
    expect(correctHits(found, [{ type: "add", hit: hitAt("snare", 1.004) }])).toHaveLength(3);
  });
  test("doubtful are events near the limit that nobody has decided on", () => {
    const events = snare([event(1, -20, 7), event(2, -20, 9), event(3, -20, 25), event(4, -20, -10)]);
    const doubts = doubtsOf(events, 7.5, [hitAt("snare", 2)], []);
    expect(doubts.map((d) => [d.time, d.taken])).toEqual([
      [1, false],
      [2, true],
    ]);
    expect(doubtsOf(events, 7.5, [], [{ type: "drop", piece: "snare", time: 1 }]).map((d) => d.time)).toEqual(
      [2],
    );
  });
});

describe("a doubtful event that is accepted", () => {
  const hits = [hitAt("snare", 1, { levelDb: -8 }), hitAt("snare", 2, { levelDb: -28, ghost: true })];
  const doubt = (time: number, levelDb: number) => ({
    piece: "snare" as const,
    time,
    levelDb,
    excess: 7,
    taken: false,
  });
  test("is a ghost note or a main stroke by what it is nearer to, and the stroke that is there where one is", () => {
    expect(strokeOf(doubt(3, -25), hits)).toMatchObject({ ghost: true, time: 3, sure: 1 });
    expect(strokeOf(doubt(3, -12), hits).ghost).toBe(false);
    expect(strokeOf(doubt(2.002, -12), hits)).toMatchObject({ ghost: true, time: 2 });
    expect(strokeOf(doubt(3, -25), hits.slice(0, 1)).ghost).toBe(false);
  });
});

describe("starts", () => {
  /** A decaying tone from an instant on, with a click of noise at its start. */
  const stroke = (x: Float32Array, at: number, hz: number, gain: number, decay: number): void => {
    const click = noise(400, Math.round(at));
    for (let i = Math.round(at); i < x.length; i++) {
      const t = (i - at) / rate;
      x[i]! += gain * Math.exp(-t / decay) * Math.sin(2 * Math.PI * hz * t);
      if (i - at < 400) x[i]! += 0.5 * gain * click[i - Math.round(at)]! * Math.exp(-t / 0.002);
    }
  };
  test.each([0, 300, -300])(
    "a stroke in silence is found to a tenth of a millisecond, looked for %d frames beside it",
    (beside) => {
      const x = noise(rate, 5, 1e-4);
      stroke(x, 20000, 180, 0.6, 0.1);
      expect(
        Math.abs(findStart(onsetSignals(x, "snare", rate), 20000 + beside * 0.5, rate) - 20000),
      ).toBeLessThan(10);
    },
  );
  test("a stroke within the loud ring of the one before is found by its attack, within a millisecond", () => {
    const x = noise(rate, 6, 1e-4);
    stroke(x, 10000, 110, 0.8, 0.6);
    stroke(x, 17000, 140, 0.6, 0.4);
    expect(Math.abs(findStart(onsetSignals(x, "tom1", rate), 17000, rate) - 17000)).toBeLessThan(48);
  });
  test("the stack shows each stroke from before its start to its tail", () => {
    const x = new Float32Array(rate);
    for (let i = 24000; i < 24480; i++) x[i] = 0.5;
    const { columns, rows, levels, from, step } = stackStrokes(x, [0.5, 2], rate);
    expect(rows).toBe(2);
    const at = (t: number) => levels[Math.round((t - from) / step)]!;
    expect([at(-0.005), at(0.002), at(0.02)].map((v) => Math.round(v))).toEqual([-90, -6, -90]);
    expect(levels.subarray(columns).every((v) => v === -90)).toBe(true);
  });
});
