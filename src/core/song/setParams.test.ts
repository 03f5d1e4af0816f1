import { describe, expect, test } from "@jest/globals";
import { testSong } from "../testing/songs";
import { processorOf } from "./create";
import { applyAll, applyOperation } from "./operations";
import { setParams, valuesIn } from "./setParams";

const song = applyAll(testSong().song, [
  {
    op: "setSong",
    values: {
      sections: [
        { id: "v", name: "Verse", from: 0, to: 1 },
        { id: "c", name: "Chorus", from: 1, to: 2 },
      ],
    },
  },
]);
const kick = (s = song) => s.mics[0]!;
const gate = (s = song) => processorOf(kick(s), "gate");

describe("parameters that are set", () => {
  test("in the song hold everywhere but where a section has its own", () => {
    const own = applyAll(song, [setParams(kick(), gate(), { range: 12 }, "v")]);
    const both = applyAll(own, [setParams(kick(own), gate(own), { range: 30, hold: 0.2 }, null)]);
    const held = (section: string | null) => valuesIn(gate(both), section);
    expect([null, "v", "c"].map((s) => held(s)["range"])).toEqual([30, 12, 30]);
    expect([null, "v", "c"].map((s) => held(s)["hold"])).toEqual([0.2, 0.2, 0.2]);
  });
  test("in a section leave what it has of others, and are taken back whole", () => {
    const first = applyAll(song, [setParams(kick(), gate(), { range: 12 }, "v")]);
    const { song: second, inverse } = applyOperation(
      first,
      setParams(kick(first), gate(first), { hold: 0.3 }, "v"),
    );
    expect(gate(second).bySection).toEqual({ v: { range: 12, hold: 0.3 } });
    expect(applyOperation(second, inverse).song).toEqual(first);
  });
  test("switch it where that is asked for, and a switch alone is the same in the whole song", () => {
    const on = applyAll(song, [setParams(kick(), gate(), {}, "v", !gate().on)]);
    expect(gate(on).on).toBe(!gate().on);
    expect(gate(on).bySection ?? {}).toEqual({});
  });
  test("are refused by the parameter's declaration, in a section as well", () => {
    for (const section of [null, "v"])
      expect(() => applyAll(song, [setParams(kick(), gate(), { range: 400 }, section)])).toThrow(
        /range is 400/,
      );
  });
});
