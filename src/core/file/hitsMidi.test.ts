import { describe, expect, test } from "@jest/globals";
import { execFileSync } from "node:child_process";
import { grooves, hitAt, playGroove, steady } from "../testing/playing";
import { readHitsMidi, writeHitsMidi } from "./hitsMidi";
import { readTempoMap } from "./tempoMap";

const { hits, end } = playGroove(grooves.rock, () => 104, { bars: 8 });
const tempo = steady(104, 0.7, end);

describe("strokes as MIDI", () => {
  test("come back where they were to within half a tick, louder ones louder, ghosts as ghosts", () => {
    const levels = hits.map((h, i) => ({ ...h, levelDb: h.ghost ? -26 : -6 - (i % 3) }));
    const back = readHitsMidi(writeHitsMidi(levels, tempo, "test"));
    expect(back.map((h) => h.piece)).toEqual(levels.map((h) => h.piece));
    back.forEach((h, i) => {
      expect(Math.abs(h.time - levels[i]!.time)).toBeLessThan(60 / 104 / 960);
      expect(h.ghost).toBe(levels[i]!.ghost);
    });
    expect(back.every((h, i) => Math.abs(h.levelDb - levels[i]!.levelDb) < 2.5)).toBe(true);
  });
  test("the tempo map comes back with its beats, meter and pick-up", () => {
    const song = { ...tempo, pickUp: 1 };
    const { tempo: back } = readTempoMap(writeHitsMidi(hits, song, "test"), end);
    expect(back.bpm).toBeCloseTo(104, 1);
    song.beats.forEach((b) =>
      expect(Math.min(...back.beats.map((x) => Math.abs(x - b)))).toBeLessThan(0.0005),
    );
    expect(back.meters[0]).toMatchObject({ beatsPerBar: 4 });
  });
  test("a tempo that moves does not drift away from the beats; 6/8 keeps its dotted quarters", () => {
    const moving = playGroove(grooves.compound, (b) => 66 + 4 * Math.sin(b / 9), {
      bars: 60,
      beatsPerBar: 2,
    });
    const song = {
      ...steady(66, 0.7, moving.end),
      compound: true,
      beatsPerBar: 2,
      follows: true,
      beats: moving.beats,
    };
    const { tempo: back } = readTempoMap(writeHitsMidi(moving.hits, song, "test"), moving.end);
    moving.beats.forEach((b) =>
      expect(Math.min(...back.beats.map((x) => Math.abs(x - b)))).toBeLessThan(0.001),
    );
    expect(back.meters[0] ?? back).toMatchObject({ compound: true, beatsPerBar: 2 });
    const strokes = readHitsMidi(writeHitsMidi(moving.hits, song, "test"));
    strokes.forEach((h, i) => expect(Math.abs(h.time - moving.hits[i]!.time)).toBeLessThan(0.001));
  });
  test("a rim stroke is a side stick; without a tempo the times still hold", () => {
    const back = readHitsMidi(writeHitsMidi([hitAt("snare", 3.21, { kind: "rim" })], null, "test"));
    expect(back[0]).toMatchObject({ piece: "snare", kind: "rim" });
    expect(back[0]!.time).toBeCloseTo(3.21, 3);
  });
  test("what is no MIDI, or holds no drums, is refused in words", () => {
    expect(() => readHitsMidi(Uint8Array.from([1, 2, 3]))).toThrow("no readable MIDI");
    expect(() => readHitsMidi(writeHitsMidi([], tempo, "test"))).toThrow("no strokes");
  });
  // Reference program: midicsv of Debian; key numbers from the General MIDI percussion key map.
  test("midicsv reads the file and sees General MIDI drums on channel 10", () => {
    const file = writeHitsMidi(
      [
        hitAt("kick", 0.7),
        hitAt("snare", 1.3),
        hitAt("hat", 1.3),
        hitAt("tom1", 2),
        hitAt("floor", 2.2),
        hitAt("ride", 3),
        hitAt("crash", 3.5),
      ],
      tempo,
      "Ferry",
    );
    const rows = execFileSync("midicsv", { input: file, encoding: "utf8" })
      .split("\n")
      .map((r) => r.split(", "));
    expect(rows.filter((r) => r[2] === "Note_on_c").map((r) => [r[3], r[4]])).toEqual(
      [36, 38, 42, 48, 41, 51, 49].map((k) => ["9", String(k)]),
    );
    expect(rows.find((r) => r[2] === "Header")).toEqual(["0", "0", "Header", "1", "2", "960"]);
    expect(rows.some((r) => r[2] === "Tempo")).toBe(true);
  });
});
