import { describe, expect, test } from "@jest/globals";
import { testMic } from "../testing/songs";
import { newMic, newSong } from "./create";
import { newLayer } from "./layer";
import { applyOperation, applyAll } from "./operations";
import { followLabel, isHeardOtherwise, labelsOf, relabel } from "./relabel";
import type { HeardDrums, Hit, Piece, Song } from "./song";

const mic = newMic({
  id: "m1",
  file: "a.wav",
  audio: null,
  channels: 1,
  frames: 100,
  piece: "context",
  place: "close",
  sure: 0.2,
});
const panned = (position: number) => ({
  ...mic,
  chain: mic.chain.map((p) => (p.type === "pan" ? { ...p, params: { ...p.params, position } } : p)),
});

describe("a new label", () => {
  test("takes the pan along: a file that turns out as the left overhead goes left", () => {
    expect(followLabel(mic, { piece: "overhead", place: "left" })).toEqual([
      { op: "setProcessor", owner: "m1", processor: "m1.pan", params: { position: -100 } },
    ]);
  });
  test("leaves a pan that was set by hand, and does nothing where nothing changes", () => {
    expect(followLabel(panned(20), { piece: "overhead", place: "left" })).toEqual([]);
    expect(followLabel(mic, { piece: "kick", place: "in" })).toEqual([]);
  });
});

const hit = (piece: Piece, time: number): Hit => ({
  piece,
  time,
  levelDb: -8,
  ghost: false,
  kind: "stroke",
  sure: 1,
});
const hears = (...drums: Piece[]): HeardDrums[] => [
  { usualDb: [], drums: Object.fromEntries(drums.map((p, n) => [p, [n]])) },
];

/** A kit whose two toms carry each other's name, as the analysis left it. */
function mixedUp(): Song {
  const mics = [
    testMic("k", "kick", "in", 100),
    testMic("ko", "kick", "out", 100),
    testMic("high", "tom2", "close", 100),
    testMic("low", "tom1", "close", 100),
    testMic("oh", "overhead", "pair", 100, 2),
  ];
  const song = newSong("mixed up", 48000, mics);
  return {
    ...song,
    hits: [hit("kick", 0.1), hit("tom2", 0.2), hit("tom1", 0.3), hit("crash", 0.4)],
    bleed: { high: hears("tom2", "tom1"), low: hears("tom2", "tom1") },
    detection: {
      sensitivity: { tom1: 3 },
      corrections: [{ type: "drop", piece: "tom2", time: 0.25 }],
    },
    tighten: { ...song.tighten, byPiece: { tom1: 0.5 }, alone: ["tom2"] },
    heardAs: labelsOf(mics),
  };
}
const label = (song: Song, id: string, piece: Piece) => applyAll(song, relabel(song, [id], { piece }));
const struck = (song: Song) => song.hits.map((h) => h.piece);

describe("a drum that is called otherwise", () => {
  test("keeps its strokes, bleed, corrections and what was set for it, under the new name", () => {
    const song = label(mixedUp(), "high", "floor");
    expect(struck(song)).toEqual(["kick", "floor", "tom1", "crash"]);
    expect(song.bleed["low"]![0]!.drums).toEqual({ floor: [0], tom1: [1] });
    expect(song.detection.corrections).toEqual([{ type: "drop", piece: "floor", time: 0.25 }]);
    expect(song.tighten.alone).toEqual(["floor"]);
    expect(isHeardOtherwise(song)).toBe(false);
  });
  test.each(["response", "sample", "context"] as const)(
    "a file labelled %s comes and goes without anything being found anew; a drum that becomes one does not",
    (piece) => {
      const song = mixedUp();
      const ir = testMic("ir", piece, "close", 100);
      const more = applyAll(song, [{ op: "addMics", mics: [{ ...ir, output: song.mics[0]!.output }] }]);
      expect(isHeardOtherwise(more)).toBe(false);
      const analysed = { ...more, heardAs: labelsOf(more.mics) };
      expect(isHeardOtherwise(analysed)).toBe(false);
      expect(isHeardOtherwise(applyAll(analysed, [{ op: "removeMics", mics: ["ir"] }]))).toBe(false);
      expect(isHeardOtherwise(label(analysed, "ko", piece))).toBe(true);
      expect(isHeardOtherwise(label(analysed, "ir", "room"))).toBe(true);
    },
  );
  test("a layer is labelled by its drum alone", () => {
    const song = mixedUp();
    const layer = {
      ...testMic("ly", "sample", "close", 100),
      output: song.mics[0]!.output,
      layer: newLayer("snare", []),
    };
    const more = applyAll(song, [{ op: "addMics", mics: [layer] }]);
    expect(label(more, "ly", "snare").mics.find((m) => m.id === "ly")).toEqual(
      more.mics.find((m) => m.id === "ly"),
    );
  });
  test("two drums change names one after the other: nothing follows in between, everything at the end", () => {
    const between = label(mixedUp(), "high", "tom1");
    expect(struck(between)).toEqual(struck(mixedUp()));
    expect(isHeardOtherwise(between)).toBe(true);
    const song = label(between, "low", "tom2");
    expect(struck(song)).toEqual(["kick", "tom1", "tom2", "crash"]);
    expect(song.detection.sensitivity).toEqual({ tom2: 3 });
    expect(song.tighten.byPiece).toEqual({ tom2: 0.5 });
    expect(isHeardOtherwise(song)).toBe(false);
  });
  test("undone, it is the song before, with what was set for drums that are not there", () => {
    const mixed = mixedUp();
    const { detection, tighten } = mixed;
    const song: Song = {
      ...mixed,
      detection: { ...detection, sensitivity: { tom2: -2, floor: 5 } },
      tighten: {
        ...tighten,
        leaders: ["kick", "tom2"],
        byPiece: { tom2: 0.3, floor: 0.9 },
        alone: ["floor"],
      },
      plan: { mirrored: false, places: { tom2: [10, 20], floor: [-30, 5] } },
    };
    const { song: now, inverse } = applyOperation(song, {
      op: "several",
      operations: relabel(song, ["high"], { piece: "floor" }),
    });
    expect(now.detection.sensitivity).toEqual({ floor: -2, tom2: 5 });
    expect(now.tighten).toMatchObject({ leaders: ["kick", "floor"], byPiece: { floor: 0.3, tom2: 0.9 } });
    expect(now.plan.places).toEqual({ floor: [10, 20], tom2: [-30, 5] });
    expect(applyOperation(now, inverse).song).toEqual(song);
  });
  test("names that follow each other in a row lead back exactly", () => {
    const { tighten, ...rest } = mixedUp();
    const byPiece = { tom1: 0.1, tom2: 0.2, tom3: 0.3, floor: 0.4 };
    const song: Song = { ...rest, tighten: { ...tighten, byPiece } };
    const { song: now, inverse } = applyOperation(song, {
      op: "renamePieces",
      names: { tom1: "tom2", tom2: "floor" },
    });
    expect(now.tighten.byPiece).toEqual({ tom2: 0.1, floor: 0.2, tom3: 0.3, tom1: 0.4 });
    expect(applyOperation(now, inverse).song).toEqual(song);
  });
  test("before an analysis a label is a label and nothing more", () => {
    const song: Song = { ...mixedUp(), hits: [], bleed: {}, heardAs: undefined };
    const done = relabel(song, ["high"], { piece: "floor" }).map((o) => o.op);
    expect(done).toContain("setMic");
    expect(done).not.toContain("renamePieces");
  });
  test.each([
    ["the outer kick mic becomes a tom's", "ko", "tom3"],
    ["a tom's mic becomes an overhead", "low", "overhead"],
    ["the overheads become rooms", "oh", "room"],
    ["a tom's mic is a crash that the overheads have heard already", "high", "crash"],
  ] as const)("%s: strokes stay as they were found, and must be found anew", (_, id, piece) => {
    const song = label(mixedUp(), id, piece);
    expect(struck(song)).toEqual(struck(mixedUp()));
    expect(isHeardOtherwise(song)).toBe(true);
  });
  test("another place of a second mic changes nothing; a second mic that becomes the main one does", () => {
    const song = mixedUp();
    expect(isHeardOtherwise(applyAll(song, relabel(song, ["ko"], { place: "sub" })))).toBe(false);
    expect(isHeardOtherwise(applyAll(song, relabel(song, ["k"], { place: "sub" })))).toBe(true);
  });
  test("names that two drums would share are refused with words", () => {
    expect(() => applyOperation(mixedUp(), { op: "renamePieces", names: { tom1: "kick" } })).toThrow(
      "there are strokes of another kick already",
    );
    expect(() =>
      applyOperation(mixedUp(), { op: "renamePieces", names: { tom1: "floor", tom2: "floor" } }),
    ).toThrow("two drums cannot get one name");
  });
});
