import { describe, expect, test } from "@jest/globals";
import { noFacts, type Facts } from "../facts/facts";
import { applyAll } from "../song/operations";
import { newSong } from "../song/create";
import type { Mic, Piece } from "../song/song";
import { testMic } from "../testing/songs";
import { bestThreshold, countGate } from "./decide";
import { gateBehindCancel, plainGate } from "./gates";

const levels = { hits: [-10, -12, -14, -11], ghosts: [-28, -30], bleed: [-34, -36, -40, -45] };
const tail = (hold: number, gain = 3) => {
  const opening = { hold, release: 0.05 };
  return {
    low: opening,
    high: opening,
    whole: opening,
    corner: 500,
    errorBefore: 10,
    wholeAfter: 10 - gain,
    errorAfter: 4,
    strokes: 30,
  };
};
const mic = (piece: Piece): Mic => testMic("m", piece, "close", 1000);
const facts = (more: Partial<Facts> = {}): Facts => ({ ...noFacts, levels: { m: levels }, ...more });

describe("the threshold that loses least", () => {
  test("lies between the quietest ghost note and the loudest bleed, in the middle of what is equally good", () => {
    const threshold = bestThreshold(levels);
    expect(threshold).toBeCloseTo(-32, 0);
    expect(countGate(levels, threshold)).toEqual({
      hits: 4,
      hitsPassed: 4,
      ghosts: 2,
      ghostsPassed: 2,
      bleed: 4,
      falseOpens: 0,
    });
  });
  test("one stroke is worth eight false opens, a ghost note two", () => {
    const many = (n: number, db: number) => new Array<number>(n).fill(db);
    const strokeUnder = (bleed: number) =>
      bestThreshold({ hits: [-10, -40], ghosts: [], bleed: many(bleed, -30) });
    expect(strokeUnder(7)).toBeLessThan(-40);
    expect(strokeUnder(9)).toBeGreaterThan(-30);
    const ghostUnder = (bleed: number) =>
      bestThreshold({ hits: [-10], ghosts: [-40], bleed: many(bleed, -30) });
    expect(ghostUnder(1)).toBeLessThan(-40);
    expect(ghostUnder(3)).toBeGreaterThan(-30);
  });
  test("no threshold is better than the slow search has it", () => {
    const cost = (t: number) => {
      const c = countGate(levels, t);
      return 8 * (c.hits - c.hitsPassed) + 2 * (c.ghosts - c.ghostsPassed) + c.falseOpens;
    };
    const best = cost(bestThreshold(levels));
    for (let t = -80; t < 0; t += 0.1) expect(cost(t)).toBeGreaterThanOrEqual(best);
  });
});

describe("a gate alone", () => {
  test("opens at the strokes that were found, at the threshold that loses least, and tells what its bleed would open", () => {
    const gate = plainGate(facts(), mic("snare"))!;
    expect(gate.params).toMatchObject({ opens: "hits", range: 18 });
    expect(Math.abs(gate.threshold - bestThreshold(levels))).toBeLessThanOrEqual(0.25);
    expect(gate.params["threshold"]).toBe(gate.threshold);
    expect([gate.falseOpens, gate.measured]).toEqual([0, false]);
  });
  test("a snare closes least, toms most", () => {
    const range = (piece: Piece) => plainGate(facts(), mic(piece))!.range;
    expect(range("snare")).toBeLessThan(range("kick"));
    expect(range("kick")).toBeLessThan(range("tom1"));
    expect(range("floor")).toBe(range("tom1"));
  });
  test("stays open for a share of the measured tail, in steps of 5 ms, where that was found to be better", () => {
    const gate = plainGate(facts({ tails: { m: tail(0.4) } }), mic("tom1"))!;
    expect([gate.measured, gate.hold]).toEqual([true, 0.25]);
    for (const none of [tail(0.4, 0.2), tail(0.02)])
      expect(plainGate(facts({ tails: { m: none } }), mic("tom1"))!.measured).toBe(false);
  });
  test("hears the mic behind its trim: what is found in the recording moves along", () => {
    const song = newSong("gate", 48000, [mic("kick")]);
    const [trimmed] = applyAll(song, [
      { op: "setProcessor", owner: "m", processor: "m.trim", on: true, params: { gain: 6 } },
    ]).mics;
    const [plain, behind] = [plainGate(facts(), mic("kick"))!, plainGate(facts(), trimmed!)!];
    expect(Number(behind.params["threshold"]) - Number(plain.params["threshold"])).toBe(6);
    expect(behind.threshold).toBe(plain.threshold);
  });
  test("none for cymbals, far mics and drums of which no stroke is known", () => {
    for (const piece of ["hat", "overhead", "room", "context"] as const)
      expect(plainGate(facts(), mic(piece))).toBeNull();
    expect(plainGate(noFacts, mic("kick"))).toBeNull();
    expect(plainGate(facts({ levels: { m: { ...levels, hits: [] } } }), mic("kick"))).toBeNull();
  });
});

describe("a gate behind cancelling", () => {
  test("toms and kick have one; a snare's bleed is low enough without", () => {
    expect(gateBehindCancel(facts(), mic("snare"))).toBeNull();
    expect(gateBehindCancel(facts(), mic("floor"))!.range).toBe(40);
    expect(gateBehindCancel(facts(), mic("kick"))!.range).toBe(30);
    expect(gateBehindCancel(noFacts, mic("kick"))).toBeNull();
  });
  test("it also opens for what is louder than nearly all bleed, since a stroke may not have been found", () => {
    const { params } = gateBehindCancel(facts(), mic("kick"))!;
    expect(params["opens"]).toBe("both");
    expect(Number(params["threshold"])).toBeGreaterThanOrEqual(-36);
    expect(Number(params["threshold"])).toBeLessThanOrEqual(-34);
    const dry = facts({ levels: { m: { ...levels, bleed: [] } } });
    expect(gateBehindCancel(dry, mic("kick"))!.params["opens"]).toBe("hits");
  });
  test("a kick's stays open a third longer than its tail; a tom's as long as toms ring", () => {
    const measured = facts({ tails: { m: tail(0.2) } });
    expect(gateBehindCancel(measured, mic("kick"))!.hold).toBeCloseTo(0.26, 6);
    expect(gateBehindCancel(measured, mic("tom2"))!.hold).toBe(1);
    expect(gateBehindCancel(facts({ tails: { m: tail(0.02) } }), mic("kick"))!.hold).toBe(0.1);
  });
});
