import { describe, expect, test } from "@jest/globals";
import { noFacts, type Facts } from "../../facts/facts";
import { newProcessor, newSong, processorOf } from "../../song/create";
import { partsOf, withFree } from "../../song/chain";
import { addedProcessor, movedProcessor, pasted, withoutProcessor } from "../../song/chainEdits";
import { applyAll, applyOperation, type Operation } from "../../song/operations";
import type { Mic, ProcessorState, Song } from "../../song/song";
import { testMic } from "../../testing/songs";
import { knownDrum, retuned, retunings, type KnownDrum } from "./retune";
import { tomSet, withToms } from "./tomSet";

const rack: KnownDrum = { fundamental: 120, ring: 300, ringT60: 0.6, roomDistance: undefined, level: -12 };
const floor: KnownDrum = { fundamental: 80, ring: 210, ringT60: 0.9, roomDistance: 5, level: -8 };
const eq = newProcessor("a", "eq", true, {
  fundamental: 120,
  bell1Ratio: 1,
  bell1Gain: 3,
  bell2Frequency: 360,
  bell2Gain: -4,
  bell4Frequency: 5000,
  bell4Gain: 3,
  highPassSlope: "12",
  highPassFrequency: 60,
});
const squeeze = newProcessor("a", "compressor", true, { threshold: -20 });
const bend = newProcessor("a", "saturation", true, { drive: 6, output: -6 });
const tamer = newProcessor("a", "ringTamer", true, { frequency: 300, found: 0.6 });
const chain = [eq, squeeze, bend, tamer, newProcessor("a", "limiter", true, { ceiling: -3 })];
const lines = retunings(chain, rack, floor);
const toOf = (name: string) => lines.find((l) => l.name === name)?.to;

describe("a chain from the rack on the floor tom", () => {
  test("what is tied follows the fundamental, corners near it in the same ratio, the stick stays", () => {
    expect(toOf("fundamental")).toBe(80);
    expect(toOf("bell2Frequency")).toBe(240);
    expect(toOf("highPassFrequency")).toBe(40);
    expect(lines.some((l) => l.name === "bell4Frequency" || l.name === "bell1Frequency")).toBe(false);
    expect(lines.filter((l) => l.type === "ringTamer").map((l) => [l.name, l.to])).toEqual(
      expect.arrayContaining([
        ["frequency", 210],
        ["found", 0.9],
      ]),
    );
  });
  test("levels follow the strokes: 4 dB louder, 4 dB higher; a bend gets less drive and gives it back; a limiter stays", () => {
    expect(toOf("threshold")).toBe(-16);
    expect([toOf("drive"), toOf("output")]).toEqual([2, -2]);
    expect(lines.some((l) => l.name === "ceiling")).toBe(false);
  });
  test("there and back again is where it began; values stay within what a parameter takes", () => {
    const there = retuned(chain, lines);
    const back = retuned(there, retunings(there, floor, rack));
    for (const [i, p] of chain.entries()) expect(back[i]!.params).toEqual(p.params);
    const low = retunings([newProcessor("a", "compressor", true, { threshold: -1 })], rack, {
      ...floor,
      level: 3,
    });
    expect(low[0]!.to).toBe(0);
  });
  test("what is not known of a drum changes nothing", () => {
    const unknown: KnownDrum = {
      fundamental: undefined,
      ring: undefined,
      ringT60: undefined,
      roomDistance: undefined,
      level: undefined,
    };
    expect(retunings(chain, unknown, unknown)).toEqual([]);
    expect(retunings(chain, rack, { ...unknown, level: -12.2 })).toEqual([]); // less than a step
  });
});

const frames = 48000;
const toms = [
  testMic("t1", "tom1", "close", frames),
  testMic("t2", "tom2", "close", frames),
  testMic("f", "floor", "close", frames),
  testMic("sn", "snare", "top", frames),
];
const levels = (db: number) => ({ hits: [db - 1, db, db + 1], ghosts: [], bleed: [] });
const facts: Facts = {
  ...noFacts,
  tone: {
    t1: { fundamental: 120, ring: 300, ringDb: 0 },
    t2: { fundamental: 100, ring: 250, ringDb: 0 },
    f: { fundamental: 80, ring: 210, ringDb: 0 },
  },
  levels: { t1: levels(-12), t2: levels(-12), f: levels(-8) },
};
const plain = newSong("toms", 48000, toms);
const micOf = (song: Song, id: string): Mic => song.mics.find((m) => m.id === id)!;
const freeOf = (song: Song, id: string): readonly ProcessorState[] => partsOf(micOf(song, id).chain).free;
const first = applyAll(plain, [
  { op: "setChain", owner: "t1", chain: withFree(toms[0]!.chain, [eq, squeeze]) },
]);
/** The chain of the first tom on all of them, kept together. */
const together = applyAll(first, [
  pasted(first, [micOf(first, "t2"), micOf(first, "f")], freeOf(first, "t1"), {
    replace: true,
    tuned: (o) => {
      const free = freeOf(first, "t1");
      return retuned(
        free,
        retunings(free, knownDrum(first, facts, micOf(first, "t1")), knownDrum(first, facts, o)),
      );
    },
  }),
  { op: "setSong", values: { shaping: { ...first.shaping, tomsTogether: true } } },
]);
const change = (song: Song, operation: Operation): Song =>
  applyOperation(song, withToms(song, facts, operation)).song;
const set = (song: Song, owner: string, type: string, params: Record<string, number>): Song =>
  change(song, { op: "setProcessor", owner, processor: processorOf(micOf(song, owner), type).id, params });
const valueOf = (song: Song, owner: string, type: string, name: string) =>
  processorOf(micOf(song, owner), type).params[name];

describe("toms kept together", () => {
  test("are the toms that are played, not the snare", () => {
    expect(tomSet(plain).map((m) => m.id)).toEqual(["t1", "t2", "f"]);
    expect(valueOf(together, "f", "compressor", "threshold")).toBe(-16);
  });
  test("what is set on one holds for all, each tuned to its drum, also level by level while it is dragged", () => {
    let song = set(together, "t1", "eq", { bell2Gain: -7, bell2Frequency: 300 });
    expect(["t2", "f"].map((id) => valueOf(song, id, "eq", "bell2Gain"))).toEqual([-7, -7]);
    expect(["t2", "f"].map((id) => valueOf(song, id, "eq", "bell2Frequency"))).toEqual([250, 200]);
    for (const threshold of [-22, -24, -24]) song = set(song, "f", "compressor", { threshold });
    expect(["t1", "t2"].map((id) => valueOf(song, id, "compressor", "threshold"))).toEqual([-28, -28]);
  });
  test("what is set otherwise on one of them stays: set apart, on, and taken back", () => {
    const apart = { ...together, shaping: { ...together.shaping, tomsTogether: false } };
    const other = set(apart, "f", "eq", { bell4Gain: 0.5 });
    expect(valueOf(other, "t1", "eq", "bell4Gain")).toBe(3);
    const again = { ...other, shaping: together.shaping };
    const song = set(again, "t1", "eq", { bell4Gain: 6, bell2Gain: -1 });
    expect(["t2", "f"].map((id) => valueOf(song, id, "eq", "bell4Gain"))).toEqual([6, 0.5]);
    expect(valueOf(song, "f", "eq", "bell2Gain")).toBe(-1);
  });
  test("a processor more, less, or elsewhere is so on all; what one of them has alone stays", () => {
    const alone = applyAll(together, [addedProcessor(micOf(together, "f"), "clipper").operation]);
    const added = change(alone, addedProcessor(micOf(alone, "t1"), "air", 0).operation);
    expect(freeOf(added, "f").map((p) => p.type)).toEqual(["air", "eq", "compressor", "clipper"]);
    const moved = change(added, movedProcessor(micOf(added, "t2"), freeOf(added, "t2")[2]!.id, 0));
    expect(freeOf(moved, "t1").map((p) => p.type)).toEqual(["compressor", "air", "eq"]);
    const less = change(moved, withoutProcessor(micOf(moved, "t1"), freeOf(moved, "t1")[1]!.id));
    expect(freeOf(less, "f").map((p) => p.type)).toEqual(["compressor", "eq", "clipper"]);
    expect(valueOf(less, "f", "compressor", "threshold")).toBe(-16);
  });
  test("a snare, and toms that are not together, go alone", () => {
    const operation: Operation = {
      op: "setProcessor",
      owner: "sn",
      processor: "sn.eq",
      params: { bell1Gain: 2 },
    };
    expect(withToms(together, facts, operation)).toBe(operation);
    expect(set({ ...together, shaping: first.shaping }, "t1", "eq", { bell1Gain: 9 }).mics[2]).toBe(
      micOf(together, "f"),
    );
  });
});
