import { describe, expect, test } from "@jest/globals";
import type { Comparison } from "../../core/listen/listening";
import { applyAll } from "../../core/song/operations";
import { testSong } from "../../core/testing/songs";
import { comparisonOf, processorsOf, type Bench } from "./scopes";

const { song: plain } = testSong();
const song = applyAll(plain, [
  { op: "setProcessor", owner: "snare", processor: "snare.gate", on: true },
  { op: "setProcessor", owner: "kick", processor: "kick.cancel", on: true },
  { op: "setProcessor", owner: "snare", processor: "snare.eq", on: true },
  { op: "setProcessor", owner: "kick", processor: "kick.dynamicEq", on: true },
]);
const bench = (values: Partial<Bench>): Bench => ({
  step: "clean",
  piece: null,
  mic: null,
  processor: null,
  ...values,
});
const of = (scope: Parameters<typeof comparisonOf>[1], values: Partial<Bench>) =>
  comparisonOf(song, scope, bench(values), null);

describe("what a comparison switches", () => {
  test("a step of one drum, and of the whole kit: only what is on and belongs to it", () => {
    expect(processorsOf(song, "clean", "snare")).toEqual(["snare.gate"]);
    expect(of("step", {})).toEqual({
      kind: "processors",
      ids: ["kick.cancel", "kick.dynamicEq", "snare.gate"],
    });
    expect(of("drum", { piece: "snare", step: "shape" })).toEqual({ kind: "processors", ids: ["snare.eq"] });
  });
  test("a chain: all that shapes a mic beyond trim and place", () => {
    const chain = of("chain", { mic: "snare" });
    expect(chain).toMatchObject({ kind: "processors" });
    const { ids } = chain as Extract<Comparison, { kind: "processors" }>;
    expect(ids).toEqual(expect.arrayContaining(["snare.delay", "snare.gate", "snare.eq"]));
    expect(ids.some((id) => id.endsWith(".trim") || id.endsWith(".pan"))).toBe(false);
  });
  test("Tighten compares the playing; nothing chosen compares nothing", () => {
    expect(of("drum", { step: "tighten", piece: "snare" })).toEqual({ kind: "timing" });
    expect(of("processor", {})).toEqual({ kind: "nothing" });
    expect(of("reference", {})).toEqual({ kind: "nothing" });
  });
  test("an earlier state with other mics is not compared", () => {
    const other = { ...song, mics: song.mics.slice(1) };
    expect(comparisonOf(song, "version", bench({}), other)).toEqual({ kind: "nothing" });
    expect(comparisonOf(song, "version", bench({}), plain)).toEqual({ kind: "version", song: plain });
  });
});
