import { describe, expect, test } from "@jest/globals";
import { testMic, testSong } from "../testing/songs";
import { newBus, newProcessor, newSong } from "./create";
import { applyAll, applyOperation, type Operation } from "./operations";
import { relabel } from "./relabel";
import { routeByLabel, withoutBus, withoutMics } from "./routes";
import { readSong } from "./songFile";
import type { Mic, Piece, Place, Song } from "./song";

const mic = (id: string, piece: Piece, place: Place = "close"): Mic => testMic(id, piece, place, 1000);
/** A song with these mics as they come in one after another. */
const withMics = (...mics: Mic[]): Song =>
  mics.reduce(
    (song, m) => {
      const added = applyOperation(song, { op: "addMics", mics: [m] }).song;
      return applyAll(added, routeByLabel(song, added));
    },
    newSong("routes", 48000, []),
  );
const outputs = ({ mics, buses }: Song): Record<string, string | null> =>
  Object.fromEntries([...mics, ...buses].map((o) => [o.id, o.output]));
const kit = withMics(
  mic("in", "kick", "in"),
  mic("out", "kick", "out"),
  mic("top", "snare", "top"),
  mic("rack", "tom1"),
  mic("low", "floor"),
  mic("hat", "hat"),
  mic("l", "overhead", "left"),
  mic("r", "overhead", "right"),
  mic("far", "room", "pair"),
  mic("song", "context", "pair"),
);

describe("where mics go by themselves", () => {
  test("mics to their drum where it has several, drums to shells, cymbals or rooms, those to the kit", () => {
    expect(outputs(kit)).toMatchObject({
      in: "drum-kick",
      out: "drum-kick",
      top: "shells",
      rack: "toms",
      low: "toms",
      hat: "cymbals",
      l: "drum-overhead",
      r: "drum-overhead",
      far: "rooms",
      song: "kit",
      "drum-kick": "shells",
      toms: "shells",
      "drum-overhead": "cymbals",
      shells: "kit",
      cymbals: "kit",
      rooms: "kit",
      kit: null,
    });
    expect(() => readSong(JSON.parse(JSON.stringify(kit)))).not.toThrow();
  });
  test("a corrected label takes a mic along, and undo brings back what went", () => {
    const change: Operation = {
      op: "several",
      operations: relabel(kit, ["out"], { piece: "snare", place: "bottom" }),
    };
    const { song, inverse } = applyOperation(kit, change);
    expect(outputs(song)).toMatchObject({
      in: "shells",
      out: "drum-snare",
      top: "drum-snare",
      "drum-snare": "shells",
    });
    expect(song.buses.map((b) => b.id)).not.toContain("drum-kick");
    expect(applyOperation(song, inverse).song).toEqual(kit);
  });
  test("a bus whose fader moves over the song was worked on, and stays", () => {
    const moved = applyAll(kit, [
      { op: "setBus", bus: "drum-kick", values: { levelMoves: [{ time: 1, db: -2 }] } },
    ]);
    const { buses } = applyAll(moved, relabel(moved, ["out"], { piece: "snare", place: "bottom" }));
    expect(buses.map((b) => b.id)).toContain("drum-kick");
  });
  test("what was sent elsewhere by hand stays there, and a drum's bus that was worked on stays with its drum", () => {
    const byHand = applyAll(kit, [
      { op: "setMic", mic: "top", values: { output: "kit" } },
      { op: "setChain", owner: "drum-kick", chain: [newProcessor("drum-kick", "compressor", true)] },
    ]);
    const song = applyAll(byHand, [...relabel(byHand, ["out"], { piece: "snare" })]);
    expect(outputs(song)).toMatchObject({ top: "kit", in: "drum-kick", out: "drum-snare" });
    expect(song.buses.find((b) => b.id === "drum-kick")!.chain).toHaveLength(1);
  });
  test("a drum that is called otherwise keeps its bus under the new name", () => {
    const struck = {
      ...kit,
      hits: [{ piece: "kick", time: 0.01, levelDb: -6, ghost: false, kind: "stroke", sure: 1 }],
    } as Song;
    const song = applyAll(struck, relabel(struck, ["in", "out"], { piece: "tom2" }));
    expect(song.buses.find((b) => b.id === "drum-kick")).toMatchObject({ piece: "tom2", name: "Tom 2" });
    expect(outputs(song)).toMatchObject({ in: "drum-kick", out: "drum-kick" });
  });
  test("a layer goes to the kit until the drum it doubles is found, then to that drum, which gets a bus for it", () => {
    const song = withMics(mic("top", "snare", "top"), mic("clap", "sample"));
    expect(outputs(song)).toMatchObject({ top: "shells", clap: "kit" });
    const found = applyAll(song, [{ op: "setMic", mic: "clap", values: { reference: "top" } }]);
    const layered = applyAll(found, routeByLabel(song, found));
    expect(outputs(layered)).toMatchObject({ top: "drum-snare", clap: "drum-snare", "drum-snare": "shells" });
    expect(layered.buses.find((b) => b.id === "drum-snare")).toMatchObject({ kind: "drum", piece: "snare" });
  });
  test("a layer that was sent elsewhere by hand stays there", () => {
    const song = withMics(mic("top", "snare", "top"), mic("far", "room"), mic("clap", "sample"));
    const byHand = applyAll(song, [{ op: "setMic", mic: "clap", values: { output: "rooms" } }]);
    const found = applyAll(byHand, [{ op: "setMic", mic: "clap", values: { reference: "top" } }]);
    expect(outputs(applyAll(found, routeByLabel(byHand, found)))).toMatchObject({
      top: "drum-snare",
      clap: "rooms",
    });
  });
  test("a song from before there were drums is left as it is", () => {
    const { song } = testSong();
    const more = applyOperation(song, { op: "addMics", mics: [mic("low", "kick", "out")] }).song;
    expect(routeByLabel(song, more)).toEqual([]);
  });
});

describe("taking out", () => {
  test("what went to a bus goes on to where it went; sends to it and keys from it end", () => {
    const busy = applyAll(kit, [
      {
        op: "setSends",
        owner: "rack",
        sends: [{ bus: "shells", level: 0, from: "fader", followsPan: true }],
      },
      { op: "setProcessor", owner: "hat", processor: "hat.gate", key: "shells" },
    ]);
    const { song, inverse } = applyOperation(busy, { op: "several", operations: withoutBus(busy, "shells") });
    expect(outputs(song)).toMatchObject({ "drum-kick": "kit", toms: "kit", top: "kit" });
    expect(song.mics.find((m) => m.id === "rack")!.sends).toEqual([]);
    expect(song.mics.find((m) => m.id === "hat")!.chain.some((p) => p.key)).toBe(false);
    expect(applyOperation(song, inverse).song).toEqual(busy);
    expect(() => withoutBus(kit, "kit")).toThrow("stays");
  });
  test("a mic that goes takes its empty drum and its keys with it", () => {
    const keyed = applyAll(kit, [{ op: "setProcessor", owner: "top", processor: "top.gate", key: "out" }]);
    const song = applyAll(keyed, withoutMics(keyed, ["out"]));
    expect(outputs(song)).toMatchObject({ in: "shells" });
    expect(song.buses.map((b) => b.id)).not.toContain("drum-kick");
    expect(song.mics.find((m) => m.id === "top")!.chain.some((p) => p.key)).toBe(false);
    // By itself the operation is refused: something would go nowhere.
    expect(() => applyOperation(keyed, { op: "removeMics", mics: ["out"] })).toThrow('listens to "out"');
    expect(() => applyOperation(kit, { op: "removeBuses", buses: ["shells"] })).toThrow(
      'a bus "shells" that is not there',
    );
  });
  test("limits are said", () => {
    const many = Array.from({ length: 40 }, (_, i) => newBus(`b${i}`, `B${i}`, "group"));
    expect(() => applyOperation(kit, { op: "addBuses", buses: many })).toThrow(/it may have 0 to 32/);
    const chained = many.slice(0, 9).map((b, i) => ({ ...b, output: i === 8 ? "kit" : `b${i + 1}` }));
    expect(() => applyOperation(kit, { op: "addBuses", buses: chained })).toThrow(
      "10 buses one after another; a song takes 8",
    );
    const eqs = Array.from({ length: 17 }, (_, i) => ({ ...newProcessor("shells", "eq"), id: `e${i}` }));
    expect(() => applyOperation(kit, { op: "setChain", owner: "shells", chain: eqs })).toThrow(
      "17 processors; a chain takes 16",
    );
  });
});
