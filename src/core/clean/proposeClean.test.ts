import { describe, expect, test } from "@jest/globals";
import { bleedSong } from "../testing/bleedSong";
import { applyOperation } from "../song/operations";
import { processorOf } from "../song/create";
import { isDecided } from "../proposals/decided";
import { noFacts, type Facts } from "../facts/facts";
import { proposeClean } from "./proposeClean";
import { setTreatment, treatmentsOf } from "./treatments";

const { song } = bleedSong();
const levels = { hits: [-6, -7, -5], ghosts: [], bleed: [-20, -24, -22, -30] };
const facts: Facts = { ...noFacts, levels: { kick: levels, snare: { ...levels, ghosts: [-28, -27] } } };
const of = (owner: string, s = song) => proposeClean(s, facts).find((p) => p.owner === owner)!;

describe("how mics are cleaned by proposal", () => {
  test("a kick is cancelled with a gentle gate behind, opened by its strokes or by what is louder than nearly all bleed", () => {
    const proposal = of("kick");
    expect(proposal.sentence).toMatch(
      /^Cancel what 1 other drums? leaves? in kick\.wav, its own strokes spared; a gate/,
    );
    const { song: taken } = applyOperation(song, proposal.operation);
    const mic = taken.mics[0]!;
    expect(processorOf(mic, "cancel").on).toBe(true);
    expect(processorOf(mic, "gate")).toMatchObject({ on: true, params: { opens: "both", range: 30 } });
    const threshold = processorOf(mic, "gate").params["threshold"] as number;
    expect(threshold).toBeGreaterThanOrEqual(-22);
    expect(threshold).toBeLessThan(-5);
    expect(isDecided(taken, proposal)).toBe(true);
  });
  test("a snare is cancelled without a gate", () => {
    const { song: taken } = applyOperation(song, of("snare").operation);
    expect(processorOf(taken.mics[1]!, "cancel").on).toBe(true);
    expect(processorOf(taken.mics[1]!, "gate").on).toBe(false);
  });
  test("what nobody measured is gated by strokes, as before", () => {
    const plain = { ...song, bleed: {} };
    expect(of("kick", plain).sentence).toMatch(/^Gate kick\.wav by its 3 strokes/);
    const { song: taken } = applyOperation(plain, of("kick", plain).operation);
    expect(processorOf(taken.mics[0]!, "gate").on).toBe(true);
    expect(processorOf(taken.mics[0]!, "cancel").on).toBe(false);
  });
  test("every way leaves on just what belongs to it, and is taken back whole", () => {
    const mic = song.mics[0]!;
    const ways = treatmentsOf(song, mic, facts);
    expect(ways.map((w) => w.id)).toEqual(["cancel", "gate", "dynamicEq", "both"]);
    for (const way of ways) {
      const { song: taken, inverse } = applyOperation(song, {
        op: "several",
        operations: setTreatment(mic, way),
      });
      const on = (["cancel", "gate", "dynamicEq"] as const).map((t) => processorOf(taken.mics[0]!, t).on);
      expect(on).toEqual([way.cancel, way.gate !== null, way.dynamicEq !== null]);
      expect(applyOperation(taken, inverse).song).toEqual(song);
    }
  });
  test("judged by what it does, a kick may do without the gate, or without any cleaning", () => {
    const verdict = { bleedDb: -9, strokesDb: 0, ghostsKept: 0, ghosts: 0, sustainDb: 0, decay: null };
    const judged = (way: "gated" | "cancelled" | "none") =>
      proposeClean(song, { ...facts, cleaning: { kick: { way, verdict } } }).find((p) => p.owner === "kick");
    const gateOf = (way: "gated" | "cancelled") =>
      processorOf(applyOperation(song, judged(way)!.operation).song.mics[0]!, "gate").on;
    expect([gateOf("gated"), gateOf("cancelled")]).toEqual([true, false]);
    expect(judged("none")).toBeUndefined();
  });
  test("drums without strokes, and far mics, have no proposal", () => {
    expect(proposeClean(song, noFacts)).toEqual([]);
    expect(of("oh")).toBeUndefined();
  });
});
