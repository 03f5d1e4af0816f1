import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { editedTime } from "../engine/timeline";
import { randomSource } from "../signal/random";
import { measureTempo } from "../hits/tempo";
import type { Hit, Piece, Tempo, TightenSettings } from "../song/song";
import { barAt } from "./bars";
import { groupStrokes, measureTightness, nearestGrid, planEdits } from "./planEdits";
import { steadyTempo } from "./steadyTempo";

const hit = (piece: Piece, time: number, ghost = false): Hit => ({
  piece,
  time,
  levelDb: -8,
  ghost,
  sure: 1,
});
const tempo: Tempo = { bpm: 120, firstBeat: 0.5, beatsPerBar: 4, beats: Array.from({ length: 60 }, (_, i) => 0.5 + i / 2) }; // prettier-ignore
const full: TightenSettings = { strength: 1, grid: "1/16", window: 0, largest: 0.05 };
/** Eighths of kick and snare, off the grid by given ms. */
const played = (offsets: readonly number[]): Hit[] =>
  offsets.map((o, i) => hit(i % 2 ? "snare" : "kick", 0.5 + i / 4 + o / 1000));
const offsets = fc.array(fc.double({ min: -25, max: 25, noNaN: true }), { minLength: 2, maxLength: 60 });

describe("plan of edits", () => {
  test("at full strength every lone stroke lands on the grid to within a frame, whatever was played", () => {
    fc.assert(
      fc.property(offsets, (list) => {
        const hits = played(list);
        const edits = planEdits(hits, tempo, full, 48000);
        return hits.every((h) => {
          const t = editedTime(edits, h.time, 48000);
          return Math.abs(t - nearestGrid(h.time, tempo.beats, "1/16")) <= 1.01 / 48000;
        });
      }),
      { numRuns: 80 },
    );
  });
  test("half strength goes half the way; the window leaves close ones; the largest move holds", () => {
    const hits = played([0, 20, 2, -20]);
    const at = (s: Partial<TightenSettings>, i: number) => {
      const edits = planEdits(hits, tempo, { ...full, ...s }, 48000);
      return 1000 * (editedTime(edits, hits[i]!.time, 48000) - (0.5 + i / 4));
    };
    expect(at({ strength: 0.5 }, 1)).toBeCloseTo(10, 1);
    expect(at({ window: 0.005 }, 2)).toBeCloseTo(2, 1);
    expect(at({ largest: 0.008 }, 3)).toBeCloseTo(-12, 1);
  });
  test("cuts ascend, fades do not overlap, and no cut lies inside a stroke's attack", () => {
    fc.assert(
      fc.property(offsets, (list) => {
        const hits = played(list);
        const edits = planEdits(hits, tempo, full, 48000);
        return edits.every((e, i) => {
          const before = edits[i - 1];
          if (before && e.at - e.fade < before.at) return false;
          const heard = hits.map((h) => editedTime(edits, h.time, 48000) * 48000);
          return heard.every((t) => e.at <= t || e.at - e.fade >= t + 0.005 * 48000);
        });
      }),
      { numRuns: 60 },
    );
  });
  test("strokes that fall together share one cut", () => {
    const hits = [hit("kick", 1.01), hit("snare", 1.012), hit("hat", 1.005), hit("kick", 2.02)];
    expect(groupStrokes(hits).map((g) => g.hits.length)).toEqual([2, 1]);
    expect(groupStrokes(hits)[0]!.from).toBe(1.005);
    expect(planEdits(hits, tempo, full, 48000)).toHaveLength(2);
  });
  test("a playing that lies on the grid is not touched", () => {
    expect(planEdits(played([0, 0, 0, 0, 0]), tempo, full, 48000)).toEqual([]);
  });
  test("tightness is the root mean square of the offsets", () => {
    const hits = played([3, -4]);
    const { spreadBefore } = measureTightness(hits, tempo, "1/16", [], (t) => t, 48000);
    expect(1000 * spreadBefore).toBeCloseTo(Math.sqrt((9 + 16) / 2), 6);
  });
});

describe("tempo", () => {
  const groove = (bpm: number, bars: number, seed: number, spreadMs: number): Hit[] => {
    const random = randomSource(seed);
    const beat = 60 / bpm;
    const off = () => ((random() + random() - 1) * spreadMs) / 1000;
    const hits: Hit[] = [];
    for (let b = 0; b < bars; b++)
      for (let q = 0; q < 4; q++) {
        const t = 0.7 + (4 * b + q) * beat;
        hits.push(hit(q % 2 ? "snare" : "kick", t + off()), hit("hat", t + off()), hit("hat", t + beat / 2 + off()));
        if (q === 2) hits.push(hit("kick", t + beat / 2 + off()));
      }
    return hits.sort((a, b) => a.time - b.time);
  }; // prettier-ignore
  test.each([72, 84, 96, 104, 118, 132, 150, 168])(
    "%d bpm is found within 0.05 bpm, its first beat within 10 ms",
    (bpm) => {
      const hits = groove(bpm, 24, bpm, 12);
      const found = measureTempo(hits, 120)!;
      expect(Math.abs(found.bpm - bpm)).toBeLessThan(0.05);
      expect(Math.abs(found.firstBeat - 0.7)).toBeLessThan(0.01);
      expect(found.beats[1]! - found.beats[0]!).toBeCloseTo(60 / bpm, 3);
    },
  );
  test("a typed tempo is kept", () => {
    expect(measureTempo(groove(100, 8, 1, 8), 30, 4, 101)!.bpm).toBe(101);
  });
  test("too few strokes give no tempo", () => {
    expect(measureTempo([hit("kick", 1), hit("snare", 2)], 30)).toBeNull();
  });
  test("a steady tempo keeps the first beat; bars and beats count from one", () => {
    const t = steadyTempo(tempo, 60, 10);
    expect(t.beats).toEqual([0.5, 1.5, 2.5, 3.5, 4.5, 5.5, 6.5, 7.5, 8.5, 9.5]);
    expect([barAt(t, 0.2), barAt(t, 0.5), barAt(t, 3.6), barAt(t, 4.5)]).toEqual([
      "0.0",
      "1.1",
      "1.4",
      "2.1",
    ]);
  });
});
