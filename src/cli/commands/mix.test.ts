import { describe, expect, test } from "@jest/globals";
import { readSettings } from "./mix";

describe("settings of a mix", () => {
  test("flavours of the kit and of single drums go to the steps, what else is set to the finished song", () => {
    const { options, rest } = readSettings([
      "shaping.flavour=vintage",
      "shaping.snare=natural",
      "snare.wav.level=-3",
      "tempo.bpm=120",
    ]);
    expect(options.shaping).toEqual({ flavour: "vintage", byPiece: { snare: "natural" } });
    expect(options.bpm).toBe(120);
    expect(rest).toEqual([["snare.wav.level", "-3"]]);
  });
  test("nothing said is modern", () => {
    expect(readSettings([]).options.shaping).toEqual({ flavour: "modern", byPiece: {} });
  });
  test("a full move takes every stroke, unless a window is asked for", () => {
    expect(readSettings(["tighten.strength=1"]).options.tighten).toEqual({ strength: 1, window: 0 });
    expect(readSettings(["tighten.strength=1", "tighten.window=0.01"]).options.tighten).toEqual({
      strength: 1,
      window: 0.01,
    });
  });
  test.each([
    ["shaping.flavour=loud", "it must be one of modern, vintage, natural"],
    ["shaping.cowbell=modern", "must be one of kick, snare"],
    ["tighten.strength=2", "must lie between 0 and 1"],
    ["tempo.bpm=5", "must lie between 30 and 300 bpm"],
    ["tighten.grid=1/5", "must be one of 1/4"],
    ["level", "--set wants PATH=VALUE"],
  ])("%s is refused with what is usable", (pair, words) => {
    expect(() => readSettings([pair])).toThrow(words);
  });
});
