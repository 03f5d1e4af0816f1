import { describe, expect, test } from "@jest/globals";
import { newSong } from "../song/create";
import { applyAll } from "../song/operations";
import { ownerOf } from "../song/graph";
import type { Hit, Song } from "../song/song";
import { testMic } from "../testing/songs";
import { pathEffect } from "./pathEffect";
import { pathOf, pathStarts, recipes, sourcesOf } from "./recipes";

const rate = 48000;
const frames = 4 * rate;
const mics = [
  testMic("kick", "kick", "in", frames),
  testMic("snare", "snare", "top", frames),
  testMic("hat", "hat", "close", frames),
  { ...testMic("tom", "tom1", "close", frames), unplayed: true },
  testMic("oh", "overhead", "pair", frames, 2),
  { ...testMic("far", "room", "pair", frames, 2), lateBy: 480 },
  testMic("bass", "context", "close", frames),
];
const song: Song = { ...newSong("paths", rate, mics), frames };
const recipe = (id: string) => recipes.find((r) => r.id === id)!;
const names = (id: string, cymbals = false) => sourcesOf(song, recipe(id), cymbals).map((m) => m.id);

describe("recipes of parallel paths", () => {
  test("every one makes a bus with its chain, from nothing, in one step", () => {
    for (const one of recipes) {
      const { id, operation } = pathOf(song, one);
      const after = applyAll(song, [operation]);
      const bus = after.buses.find((b) => b.id === id)!;
      expect(bus).toMatchObject({ level: pathStarts, kind: one.kind, output: "kit" });
      expect(bus.chain.map((p) => p.type)).toEqual(one.chain.map(([type]) => type));
      expect(new Set(bus.chain.map((p) => p.id)).size).toBe(bus.chain.length);
      const fed = after.mics.filter((m) => m.sends.some((s) => s.bus === id)).map((m) => m.id);
      expect(fed).toEqual(sourcesOf(song, one).map((m) => m.id));
      expect(after.buses.at(-1)!.id).toBe("kit");
    }
  });
  test("what is never played, music and cymbals stay out; spaces leave the kick out; cymbals come where they are wished", () => {
    expect(names("crushed")).toEqual(["kick", "snare"]);
    expect(names("energy")).toEqual(["kick", "snare", "oh", "far"]);
    expect(names("crushed", true)).toEqual(["kick", "snare", "hat"]);
    expect(names("shortRoom")).toEqual(["snare"]);
    expect(names("lively")).toEqual(["kick", "snare", "far"]);
  });
  test("a room stands as far as the room mics do, and what was fitted is put in", () => {
    const room = pathOf(song, recipe("shortRoom"));
    const bus = ownerOf(applyAll(song, [room.operation]), room.id)!;
    expect(bus.chain[0]!.params["distance"]).toBeCloseTo(3.43, 2);
    const { id, operation } = pathOf(song, recipe("dirt"), { fitted: { threshold: -41, makeup: 7 } });
    expect(ownerOf(applyAll(song, [operation]), id)!.chain[0]!.params).toMatchObject({
      threshold: -41,
      makeup: 7,
    });
  });
  test("a kit without such mics is told in words", () => {
    const cymbals = { ...song, mics: song.mics.filter((m) => m.piece === "hat") };
    expect(() => pathOf(cymbals, recipe("kickMiddle"))).toThrow("Middle of the kick: this kit has no mic");
  });
});

describe("what a path brings", () => {
  const hit = (piece: Hit["piece"], time: number): Hit => ({
    piece,
    time,
    levelDb: -6,
    ghost: false,
    kind: "stroke",
    sure: 1,
  });
  const times = [0.5, 1, 1.5, 2, 2.5, 3];
  const burst = (at: readonly number[]) => {
    const x = new Float32Array(frames);
    for (const t of at)
      for (let i = 0; i < 6000; i++)
        x[Math.round(t * rate) + i]! += 0.3 * Math.exp(-i / 1500) * Math.sin(i / 8);
    return x;
  };
  const silent = new Float32Array(frames);
  const hatTimes = times.map((t) => t + 0.25);
  const stretch = [
    [burst(times)],
    [silent],
    [burst(hatTimes).map((v) => 0.5 * v)],
    [silent],
    [silent, silent],
    [silent, silent],
    [silent],
  ];
  const struck = {
    ...song,
    hits: [...times.map((t) => hit("kick", t)), ...hatTimes.map((t) => hit("hat", t))],
  };
  test("a plain copy of the kick makes its strokes 6 dB louder and leaves the hat alone", () => {
    const plain = { ...recipe("kickMiddle"), chain: [] };
    const { id, operation } = pathOf(struck, plain);
    const effect = pathEffect(applyAll(struck, [operation]), id, stretch, 0);
    const of = (piece: string) => effect.drums.find((d) => d.piece === piece)!;
    expect(of("kick").louderDb).toBeCloseTo(6.02, 1);
    expect(Math.abs(of("hat").louderDb)).toBeLessThan(0.1);
    expect(of("hat").strokes).toBe(6);
    expect(effect.peakDb).toBeCloseTo(6.02, 1);
  });
  test("a path that is not there is told", () => {
    expect(() => pathEffect(struck, "nowhere", stretch, 0)).toThrow('no path "nowhere"');
    expect(() => pathEffect(struck, "kit", stretch, 0)).toThrow('no path "kit"');
  });
});
