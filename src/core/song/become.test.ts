import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { testMic } from "../testing/songs";
import { becoming } from "./become";
import { withFree } from "./chain";
import { addedProcessor } from "./chainEdits";
import { newBus, newProcessor, newSong } from "./create";
import { differences } from "./differences";
import { kitOf, ownerOf } from "./graph";
import { applyAll, applyOperation, type Operation } from "./operations";
import { withoutBus } from "./routes";
import type { Song } from "./song";

const plain: Song = newSong("states", 48000, [
  testMic("kick", "kick", "in", 100),
  testMic("snare", "snare", "top", 100),
  testMic("tom", "tom1", "close", 100),
]);
const owner = (song: Song, id: string) => ownerOf(song, id)!;
const bus = (id: string, output = "kit") => newBus(id, id, "group", { output });

/** Changes that a song may be in any mixture of; each is left out where it no longer fits. */
const steps: readonly ((song: Song) => readonly Operation[])[] = [
  () => [{ op: "setMic", mic: "kick", values: { level: -4.5, muted: true } }],
  () => [{ op: "setSong", values: { title: "Another", refused: ["x"] } }],
  () => [{ op: "addBuses", buses: [bus("low")] }],
  () => [{ op: "addBuses", buses: [bus("low"), bus("lower", "low")] }],
  () => [{ op: "setMic", mic: "snare", values: { output: "low" } }],
  (song) => [addedProcessor(owner(song, "snare"), "clipper", undefined, { ceiling: -12 }).operation],
  (song) => [
    {
      op: "setChain",
      owner: "tom",
      chain: withFree(owner(song, "tom").chain, [{ ...newProcessor("tom", "compressor"), key: "snare" }]),
    },
  ],
  (song) => [
    {
      op: "setChain",
      owner: "squash",
      chain: withFree(owner(song, "squash").chain, [
        { ...newProcessor("squash", "compressor"), key: "kick" },
      ]),
    },
  ],
  () => [
    { op: "setSends", owner: "kick", sends: [{ bus: "grit", level: -6, from: "fader", followsPan: true }] },
  ],
  () => [
    {
      op: "setSends",
      owner: "grit",
      sends: [{ bus: "squash", level: -6, from: "chain", followsPan: false }],
    },
  ],
  () => [
    {
      op: "setSends",
      owner: "squash",
      sends: [{ bus: "grit", level: -2, from: "chain", followsPan: false }],
    },
  ],
  (song) => withoutBus(song, "grit"),
  (song) => withoutBus(song, "low"),
  () => [{ op: "setBus", bus: "room", values: { muted: false, level: 2, width: 50 } }],
];
const state = (chosen: readonly number[]): Song =>
  chosen.reduce((song, n) => {
    try {
      return applyAll(song, steps[n]!(song));
    } catch {
      return song; // it does not fit any more
    }
  }, plain);
const parts = (song: Song) => ({
  ...song,
  buses: [...song.buses].sort((a, b) => a.id.localeCompare(b.id)),
});
const some = fc.array(fc.integer({ min: 0, max: steps.length - 1 }), { maxLength: 9 });

describe("one state of a song becomes another", () => {
  test("whatever was done to both, in one step that can be undone", () => {
    fc.assert(
      fc.property(some, some, (a, b) => {
        const [from, to] = [state(a), state(b)];
        const { song, inverse } = applyOperation(from, becoming(from, to));
        expect(parts(song)).toEqual(parts(to));
        expect(parts(applyOperation(song, inverse).song)).toEqual(parts(from));
      }),
      { numRuns: 300 },
    );
  });
  test("the order of buses is that of the other state", () => {
    const to = state([3]);
    expect(applyAll(plain, [becoming(plain, to)]).buses.map((b) => b.id)).toEqual(to.buses.map((b) => b.id));
  });
  test("one drum alone: its mics, and nothing else; ways to buses that are not there go to the kit", () => {
    const to = state([0, 2, 4, 5, 13]);
    const song = applyAll(plain, [becoming(plain, to, "snare")]);
    expect(owner(song, "snare").chain).toEqual(owner(to, "snare").chain);
    expect(owner(song, "snare").output).toBe(kitOf(song).id);
    expect(owner(song, "kick")).toEqual(owner(plain, "kick"));
    expect(owner(song, "room")).toEqual(owner(plain, "room"));
  });
  test("a file that came in since loses its ways to a bus that goes, and what a file that went was asked for is left out", () => {
    const busy = applyAll(plain, [
      { op: "addBuses", buses: [bus("low")] },
      { op: "addMics", mics: [{ ...testMic("hat", "hat", "close", 100), output: "low" }] },
      { op: "setSends", owner: "hat", sends: [{ bus: "low", level: 0, from: "chain", followsPan: true }] },
    ]);
    const back = applyAll(busy, [becoming(busy, plain)]);
    expect(owner(back, "hat")).toMatchObject({ output: "kit", sends: [] });
    expect(back.buses.map((b) => b.id)).toEqual(plain.buses.map((b) => b.id));
    const keyed = state([6]);
    const fewer = applyAll(plain, [{ op: "removeMics", mics: ["snare"] }]);
    const chain = owner(applyAll(fewer, [becoming(fewer, keyed)]), "tom").chain;
    expect(chain.some((p) => p.type === "compressor")).toBe(true);
    expect(chain.every((p) => !p.key)).toBe(true);
  });
  test("what an analysis measured of the mics comes along", () => {
    const later = applyAll(plain, [
      {
        op: "setMic",
        mic: "snare",
        values: {
          lateBy: 31.5,
          unplayed: true,
          reference: "kick",
          peakDbfs: -3,
          clockPpm: 12,
          audio: "other",
        },
      },
    ]);
    expect(applyAll(plain, [becoming(plain, later)]).mics).toEqual(later.mics);
    expect(applyAll(later, [becoming(later, plain)]).mics).toEqual(plain.mics);
  });
  test("files that came in since stay", () => {
    const more = applyAll(plain, [{ op: "addMics", mics: [testMic("hat", "hat", "close", 100)] }]);
    const song = applyAll(more, [becoming(more, state([0]))]);
    expect(song.mics.map((m) => m.id)).toEqual(["kick", "snare", "tom", "hat"]);
  });
});

describe("differences in words", () => {
  test("faders, processors, their values, buses, sends and the song itself", () => {
    const to = state([0, 1, 2, 4, 5, 8]);
    const words = differences(plain, to);
    expect(words).toEqual(
      expect.arrayContaining([
        "kick −4.5 dB",
        "kick muted",
        "bus low added",
        "snare goes to low",
        "new Clipper on snare",
        "sends of kick changed",
        "another title",
      ]),
    );
    const lower = applyAll(to, [
      {
        op: "setProcessor",
        owner: "snare",
        processor: owner(to, "snare").chain.find((p) => p.type === "clipper")!.id,
        params: { ceiling: -9 },
      },
    ]);
    expect(differences(to, lower)).toEqual(["Clipper of snare: ceiling −12 dB → −9 dB"]);
    expect(differences(lower, plain)).toEqual(
      expect.arrayContaining(["Clipper taken out of snare", "bus low taken out"]),
    );
  });
  test("nothing for the same, something for anything else", () => {
    fc.assert(
      fc.property(some, some, (a, b) => {
        const [from, to] = [state(a), state(b)];
        expect(differences(from, from)).toEqual([]);
        const same = JSON.stringify(parts(from)) === JSON.stringify(parts(to));
        expect(differences(from, to).length > 0).toBe(!same);
      }),
    );
  });
});
