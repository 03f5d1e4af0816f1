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
    expect(options.shaping).toMatchObject({ flavour: "vintage", byPiece: { snare: "natural" } });
    expect(options.bpm).toBe(120);
    expect(rest).toEqual([["snare.wav.level", "-3"]]);
  });
  test("quick controls of drums and of the kit are gathered by drum", () => {
    const { options } = readSettings([
      "quick.snare.weight=40",
      "quick.snare.density=-20",
      "quick.kit.air=15",
    ]);
    expect(options.quick).toEqual({ snare: { weight: 40, density: -20 }, kit: { air: 15 } });
  });
  test("nothing said is modern", () => {
    expect(readSettings([]).options.shaping).toMatchObject({ flavour: "modern", byPiece: {} });
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
    ["quick.cowbell.weight=10", "its drum is"],
    ["quick.snare.loudness=10", "its control is"],
    ["quick.kit.air=200", "must lie between -100 and 100"],
    ["tempo.bpm=5", "must lie between 30 and 300 bpm"],
    ["tighten.grid=1/5", "must be one of 1/4"],
    ["level", "--set wants PATH=VALUE"],
  ])("%s is refused with what is usable", (pair, words) => {
    expect(() => readSettings([pair])).toThrow(words);
  });
});
