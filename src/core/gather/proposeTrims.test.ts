import { describe, expect, test } from "@jest/globals";
import { noFacts, type Facts } from "../facts/facts";
import { newSong, processorOf } from "../song/create";
import { applyAll } from "../song/operations";
import type { Mic } from "../song/song";
import { testMic } from "../testing/songs";
import { proposeTrims } from "./proposeTrims";

const mics: Mic[] = [
  testMic("kick", "kick", "in", 100),
  { ...testMic("out", "kick", "out", 100), reference: "kick" },
  { ...testMic("hat", "hat", "close", 100), peakDbfs: -3 },
  { ...testMic("left", "overhead", "left", 100), peakDbfs: -9 },
  { ...testMic("right", "overhead", "right", 100), peakDbfs: -4 },
  testMic("bass", "context", "close", 100),
  { ...testMic("tom", "tom1", "close", 100), unplayed: true },
];
const song = newSong("trims", 48000, mics);
const levels = (...hits: number[]) => ({ hits, ghosts: [], bleed: [] });
const facts: Facts = { ...noFacts, levels: { kick: levels(-3, -5, -4), out: levels(-20, -22, -21) } };
const gains = (f: Facts): Record<string, number> =>
  Object.fromEntries(
    proposeTrims(song, f).map((p) => [p.owner, Number(p.figure.replace("−", "-").replace(" dB", ""))]),
  );

describe("trims", () => {
  test("bring the middle of the strokes to -10 dBFS, a second mic's to -14, a hat's peak to -18", () => {
    expect(gains(facts)).toMatchObject({ kick: -6, out: 7, hat: -15 });
  });
  test("one click does not decide: the middle of the strokes does", () => {
    const clicked = { ...facts, levels: { ...facts.levels, kick: levels(-20, -20, -20, -20, 0) } };
    expect(gains(clicked)["kick"]).toBe(10);
  });
  test("nothing for music beside the kit and drums that were never played", () => {
    expect(Object.keys(gains(facts)).sort()).toEqual(["hat", "kick", "left", "out", "right"]);
  });
  test("overheads of which nothing more is known come to one peak each", () => {
    expect(gains(facts)).toMatchObject({ left: -3, right: -8 });
  });
  test("where it is known what both sides hear of snare and kick, these are alike behind the trims, and no side is too loud", () => {
    const heard = (snare: number, kick: number) => ({ heard: { snare, kick }, together: null });
    const pair: Facts = { ...facts, heardStrokes: { left: heard(-30, -32), right: heard(-27, -29) } };
    const { left, right } = gains(pair);
    expect(-30 + left! - (-27 + right!)).toBeCloseTo(0, 6);
    expect(Math.max(-9 + left!, -4 + right!)).toBeCloseTo(-12, 6);
    const told = proposeTrims(song, pair).find((p) => p.owner === "left")!.sentence;
    expect(told).toContain("both sides hear the snare and the kick alike");
  });
  test("taken, they are in force; no trim goes beyond 30 dB", () => {
    const quiet = { ...facts, levels: { kick: levels(-80) } };
    expect(gains(quiet)["kick"]).toBe(30);
    const trimmed = applyAll(
      song,
      proposeTrims(song, facts).map((p) => p.operation),
    );
    expect(processorOf(trimmed.mics[0]!, "trim")).toMatchObject({ on: true, params: { gain: -6 } });
  });
});
