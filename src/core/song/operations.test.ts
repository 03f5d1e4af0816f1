import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { testMic, testSong } from "../testing/songs";
import { isFree, withFree } from "./chain";
import { newBus, newProcessor } from "./create";
import { applyOperation, type Operation } from "./operations";
import { readSong } from "./songFile";

const { song } = testSong();
const level = fc.double({ min: -60, max: 12, noNaN: true });
const one: fc.Arbitrary<Operation> = fc.oneof(
  fc.record({
    op: fc.constant("setMic" as const),
    mic: fc.constantFrom("kick", "snare"),
    values: fc.record({ level, muted: fc.boolean() }),
  }),
  fc.record({
    op: fc.constant("setBus" as const),
    bus: fc.constantFrom("kit", "room"),
    values: fc.record({ level }),
  }),
  fc.record({
    op: fc.constant("setProcessor" as const),
    owner: fc.constant("snare"),
    processor: fc.constant("snare.gate"),
    on: fc.boolean(),
    params: fc.record({ threshold: fc.integer({ min: -80, max: 0 }) }),
  }),
  fc.record({
    op: fc.constant("setSends" as const),
    owner: fc.constantFrom("kick", "grit"),
    sends: fc.constantFrom([], [{ bus: "squash", level: -3, from: "input" as const, followsPan: false }]),
  }),
  fc.record({
    op: fc.constant("setSong" as const),
    values: fc.record({ title: fc.string({ minLength: 1 }).filter((t) => t.trim() !== "") }),
  }),
  fc.record({
    op: fc.constant("setProcessor" as const),
    owner: fc.constant("kick"),
    processor: fc.constant("kick.gate"),
    key: fc.constantFrom("snare", "room", null),
  }),
  fc.shuffledSubarray(song.mics[1]!.chain.filter(isFree), { minLength: 5 }).map((free) => ({
    op: "setChain" as const,
    owner: "snare",
    chain: withFree(song.mics[1]!.chain, [...free, { ...newProcessor("snare", "eq"), id: "snare.more" }]),
  })),
  fc.constant({ op: "setMic" as const, mic: "oh", values: { output: "room" } }),
  // In and out again, and out and in again: what is between must find it so.
  fc.constantFrom("new1", "new2").map((id): Operation => ({
    op: "several",
    operations: [
      { op: "addBuses", buses: [newBus(id, "New", "group")], order: ["kit", id, "room", "squash", "grit"] },
      { op: "setMic", mic: "snare", values: { output: id } },
      { op: "setMic", mic: "snare", values: { output: "kit" } },
      { op: "removeBuses", buses: [id] },
    ],
  })),
  fc.constantFrom("kick", "oh").map((id): Operation => ({
    op: "several",
    operations: [
      { op: "removeMics", mics: [id] },
      { op: "addMics", mics: [song.mics.find((m) => m.id === id)!], order: ["snare", "oh", "kick"] },
    ],
  })),
);

describe("operations", () => {
  test("every operation has an exact inverse, and its inverse one too", () => {
    fc.assert(
      fc.property(fc.array(one, { minLength: 1, maxLength: 8 }), (operations) => {
        const several: Operation = { op: "several", operations };
        const done = applyOperation(song, several);
        const undone = applyOperation(done.song, done.inverse);
        expect(undone.song).toEqual(song);
        expect(applyOperation(undone.song, undone.inverse).song).toEqual(done.song);
      }),
      { numRuns: 150 },
    );
  });
  test("mics that were taken out come back with everything that was set on them", () => {
    const changed = applyOperation(song, { op: "setMic", mic: "snare", values: { level: -3 } }).song;
    const { song: without, inverse } = applyOperation(changed, { op: "removeMics", mics: ["snare"] });
    expect(without.mics.map((m) => m.id)).toEqual(["kick", "oh"]);
    expect(applyOperation(without, inverse).song.mics.find((m) => m.id === "snare")!.level).toBe(-3);
  });
  test("a longer mic makes the song longer", () => {
    const { song: longer } = applyOperation(song, {
      op: "addMics",
      mics: [testMic("far", "room", "pair", 30000, 2)],
    });
    expect(longer.frames).toBe(30000);
  });
  test("what is not there or out of range is refused and named", () => {
    const refuse = (o: Operation) => () => applyOperation(song, o);
    expect(refuse({ op: "setMic", mic: "tuba", values: {} })).toThrow('there is no mic "tuba"');
    expect(
      refuse({ op: "setProcessor", owner: "snare", processor: "snare.gate", params: { threshold: 99 } }),
    ).toThrow(/threshold is 99 dB; it must lie between -80 and 0/);
    expect(
      refuse({ op: "setProcessor", owner: "snare", processor: "snare.gate", params: { colour: 1 } }),
    ).toThrow(/unknown parameter "colour"/);
    expect(
      refuse({
        op: "setSends",
        owner: "kick",
        sends: [{ bus: "nowhere", level: 0, from: "fader", followsPan: true }],
      }),
    ).toThrow("nowhere");
    expect(refuse({ op: "addMics", mics: [song.mics[0]!] })).toThrow("already");
  });
});

describe("song file", () => {
  test("a song goes through JSON unchanged", () => {
    expect(readSong(JSON.parse(JSON.stringify(song)))).toEqual(song);
  });
  test.each([
    [{}, "not a song"],
    [{ ...song, formatVersion: 10 }, "format version 10"],
    [{ ...song, sampleRate: 1 }, "sampleRate is 1"],
    [{ ...song, mics: [{ ...song.mics[0], piece: "gong" }] }, 'the song.mics[0] (kick.wav).piece is "gong"'],
    [{ ...song, heardAs: { kick: { piece: "gong", place: "in" } } }, 'the song.heardAs.kick.piece is "gong"'],
    [{ ...song, heardAs: { kick: null } }, "the song.heardAs.kick is null"],
    [{ ...song, buses: [] }, "exactly one kit bus"],
    [{ ...song, align: undefined }, "the song lacks align"],
    [{ ...song, mics: [{ ...song.mics[0], start: -5 }] }, "start is -5; it must be a whole number between 0"],
    [
      { ...song, mics: [{ ...song.mics[0], clockPpm: 1e9 }] },
      "clockPpm is 1000000000; it must be a number between",
    ],
  ])("case %#: refused with its reason", (json, reason) => {
    expect(() => readSong(json)).toThrow(reason as string);
  });
  test("values by section are checked, undone whole, and survive the song's format; older versions are brought up to date", () => {
    const set = {
      op: "setProcessor",
      owner: "kick",
      processor: "kick.trim",
      bySection: { a: { gain: -3 } },
    } as const;
    const { song: varied, inverse } = applyOperation(song, set);
    expect(varied.mics[0]!.chain.find((p) => p.type === "trim")!.bySection).toEqual({ a: { gain: -3 } });
    expect(
      applyOperation(varied, inverse).song.mics[0]!.chain.find((p) => p.type === "trim")!.bySection,
    ).toEqual({});
    expect(() => applyOperation(song, { ...set, bySection: { a: { gain: 99 } } })).toThrow(/gain is 99/);
    expect(readSong(JSON.parse(JSON.stringify(varied)))).toEqual(varied);
    const { referenceRecord: _, bleed: __, ...rest } = song;
    const mics = song.mics.map((m) => ({
      ...m,
      chain: m.chain.filter((p) => p.type !== "rotation" && p.type !== "cancel"),
    }));
    const old = { ...rest, mics, formatVersion: 1, sections: [{ name: "verse", from: 1, to: 2 }] };
    const read = readSong(JSON.parse(JSON.stringify(old)));
    expect(read.mics.map((m) => m.chain.map((p) => p.type))).toEqual(
      song.mics.map((m) => m.chain.map((p) => p.type)),
    );
    expect(read).toMatchObject({
      formatVersion: 9,
      referenceRecord: null,
      sections: [{ id: "section1", name: "verse", from: 1, to: 2 }],
    });
  });
});
