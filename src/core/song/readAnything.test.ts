import { describe, expect, test } from "@jest/globals";
import { Engine, blockFrames } from "../engine/engine";
import { randomSource } from "../signal/random";
import { testSong } from "../testing/songs";
import { newProcessor } from "./create";
import { applyAll, applyOperation, type Operation } from "./operations";
import { checkAsked } from "./checkOperation";
import { readSong } from "./songFile";
import type { Song } from "./song";

const base = testSong(4000).song;
/** A song that uses every kind of field. */
const full: Song = applyAll(base, [
  {
    op: "setSong",
    values: {
      title: "Everything",
      tempo: {
        bpm: 120,
        firstBeat: 0,
        beatsPerBar: 4,
        compound: false,
        pickUp: 0,
        meters: [{ beat: 4, beatsPerBar: 3, compound: false }],
        follows: true,
        beats: [0, 0.5, 1],
      },
      sections: [{ id: "a", name: "A", from: 0, to: 0.05 }],
      edits: [{ at: 100, shift: 10, fade: 20, likeness: 0.9, jumpDb: -30 }],
      plan: { mirrored: true, places: { kick: [1, 2] } },
      tighten: {
        ...base.tighten,
        strength: 0.5,
        byPiece: { kick: 0.2 },
        bySection: { a: { swing: 0.6 } },
        locked: [{ from: 0.01, to: 0.02 }],
      },
    },
  },
  { op: "setMic", mic: "kick", values: { levelBySection: { a: -3 } } },
  {
    op: "setProcessor",
    owner: "kick",
    processor: "kick.eq",
    on: true,
    params: { bell1Gain: 3 },
    bySection: { a: { bell1Gain: -2 } },
  },
  { op: "setSends", owner: "snare", sends: [{ bus: "room", level: -6, from: "chain", followsPan: true }] },
]);

type Path = (string | number)[];
/** Every place in a document. */
function* placesIn(value: unknown, path: Path = []): Generator<Path> {
  if (path.length > 0) yield path;
  if (typeof value === "object" && value !== null)
    for (const [name, inner] of Object.entries(value))
      yield* placesIn(inner, [...path, Array.isArray(value) ? Number(name) : name]);
}
/** The document with another value at a place. */
function changedAt(document: unknown, path: Path, value: unknown): unknown {
  const copy = structuredClone(document) as Record<string | number, unknown>;
  const holder = path.slice(0, -1).reduce((o, name) => o[name] as Record<string | number, unknown>, copy);
  if (value === undefined) delete holder[path.at(-1)!];
  else holder[path.at(-1)!] = value;
  return copy;
}
const wrong: unknown[] = ["x", -1, 1e300, -1e300, 0.5, null, true, [], {}, [{}], undefined];
/** What is read, or the words with which it is refused. */
function read(document: unknown): Song | string {
  try {
    return readSong(JSON.parse(JSON.stringify(document)));
  } catch (error) {
    expect(error instanceof RangeError || error instanceof TypeError).toBe(true);
    return (error as Error).message;
  }
}
/** Plays a song for some blocks; all that comes out is numbers. */
function plays(song: Song): boolean {
  const engine = Engine.of(song);
  engine.reset(0);
  const inputs = song.mics.map((m) =>
    Array.from({ length: m.channels }, () => new Float32Array(blockFrames).fill(0.1)),
  );
  for (let n = 0; n < 6; n++) engine.process(inputs, n * blockFrames);
  return engine.mixer.output.every((x) => x.every(Number.isFinite));
}

describe("a document with one thing wrong", () => {
  const document = JSON.parse(JSON.stringify(full)) as unknown;
  const all = [...placesIn(document)];
  test("the whole one is read as it is, and plays", () => {
    expect(read(document)).toEqual(full);
    expect(plays(full)).toBe(true);
    expect(all.length).toBeGreaterThan(1000);
  });
  test("is refused with words that name the place, or read as a song that can be worked with", () => {
    const random = randomSource(11);
    let [refused, taken] = [0, 0];
    // Every place of the song itself; of the many parameters some.
    for (const path of all.filter((p) => !p.includes("params") || random() < 0.03)) {
      const value = wrong[Math.floor(random() * wrong.length)];
      const found = read(changedAt(document, path, value));
      if (typeof found === "string") {
        refused++;
        expect(found.length).toBeLessThan(400);
        expect(found).toMatch(/\w/);
        continue;
      }
      taken++;
      expect(read(found)).toEqual(found);
      if (taken % 10 === 0) expect(plays(found)).toBe(true);
      expect(() => applyOperation(found, { op: "setSong", values: { title: "next" } })).not.toThrow();
    }
    expect(refused).toBeGreaterThan(3 * taken);
    expect(taken).toBeGreaterThan(10);
  });
  test.each<[Path, unknown, RegExp]>([
    [["mics", 0, "level"], 25, /mics\[0\].*level.*24/],
    [["mics", 0, "chain", 3, "params", "gain"], "loud", /gain/],
    [["buses", 0, "width"], -1, /width.*200/],
    [["buses", 1, "id"], "squash", /squash/],
    [["tempo", "beats", 1], -4, /beats/],
    [["sections", 0, "to"], "end", /sections\[0\] \(A\).to/],
    [["hits", 0, "piece"], "cowbell", /cowbell|piece/],
    [["tighten", "grid"], "1/3.5", /grid/],
    [["mics", 1, "sends", 0, "bus"], "nowhere", /nowhere/],
    [["plan", "places", "kick"], [1], /kick/],
  ])("%j as %j: the words name it", (path, value, words) => {
    expect(read(changedAt(document, path, value))).toMatch(words);
  });
});

describe("operations from outside", () => {
  const good: Operation[] = [
    { op: "setSong", values: { title: "t" } },
    { op: "setMic", mic: "kick", values: { level: -3 } },
    { op: "setBus", bus: "room", values: { level: -3 } },
    { op: "setProcessor", owner: "kick", processor: "kick.eq", on: true, params: { bell1Gain: 1 } },
    { op: "setChain", owner: "room", chain: [newProcessor("room", "eq")] },
    { op: "setSends", owner: "kick", sends: [] },
    { op: "several", operations: [{ op: "setMic", mic: "kick", values: { muted: true } }] },
  ];
  test.each(good)(
    "%j with one thing wrong is refused with words or leaves a song that can be read again, and never changes the one it was for",
    (operation) => {
      const before = structuredClone(full);
      for (const path of placesIn(operation))
        for (const value of wrong) {
          const asked = changedAt(operation, path, value) as Operation;
          let applied: Song | null = null;
          try {
            checkAsked(asked);
            applied = applyOperation(full, asked).song;
          } catch (error) {
            expect(error instanceof RangeError || error instanceof TypeError).toBe(true);
          }
          // What was taken can be stored, and read again as it is.
          if (applied) expect(read(applied)).toEqual(JSON.parse(JSON.stringify(applied)));
          expect(full).toEqual(before);
        }
    },
  );
  test.each([null, undefined, 7, "setMic", [], {}, { op: null }, { op: "__proto__" }, { op: "toString" }])(
    "%j is no operation",
    (value) => {
      expect(() => checkAsked(value)).toThrow(/unknown operation/);
    },
  );
});
