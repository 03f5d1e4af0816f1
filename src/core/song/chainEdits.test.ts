import { describe, expect, test } from "@jest/globals";
import { testSong } from "../testing/songs";
import {
  addedProcessor,
  copiesFor,
  freshChain,
  movedProcessor,
  pasted,
  tunedTo,
  withoutProcessor,
} from "./chainEdits";
import { partsOf } from "./chain";
import { newBus } from "./create";
import { applyAll, applyOperation, type Operation } from "./operations";
import { addedBus, parallelCopy } from "./parallelCopy";
import type { Song } from "./song";

const { song } = testSong();
const kick = song.mics[0]!;
const types = (s: Song, id: string) =>
  partsOf([...s.mics, ...s.buses].find((o) => o.id === id)!.chain).free.map((p) => p.type);
const after = (o: Operation, from = song) => applyOperation(from, o).song;

describe("a chain is worked on", () => {
  test("one more of a kind, between others, with an id of its own", () => {
    const { id, operation } = addedProcessor(kick, "eq", 1);
    expect(id).toBe("kick.eq2");
    expect(types(after(operation), "kick")).toEqual([
      "gate",
      "eq",
      "dynamicEq",
      "eq",
      "compressor",
      "saturation",
    ]);
  });
  test("what stands for the drum's fundamental takes it, within its range, where it is known", () => {
    expect(tunedTo("lowHarmonics", { fundamental: 64.23 })).toEqual({ frequency: 64.2 });
    expect(tunedTo("lowHarmonics", { fundamental: 410 })).toEqual({ frequency: 200 });
    expect(tunedTo("eq", { fundamental: 190.5, ring: 700 })).toEqual({ fundamental: 191 });
    expect(tunedTo("eq", {})).toEqual({});
    expect(tunedTo("compressor", { fundamental: 64 })).toEqual({});
    expect(tunedTo("ringTamer", { ring: 412.34, ringT60: 9 })).toEqual({ frequency: 412, found: 5 });
    expect(tunedTo("ringTamer", { ring: 412.34, ringT60: undefined })).toEqual({ frequency: 412 });
  });
  test("moved and taken out; what must be first and last stays", () => {
    const moved = after(movedProcessor(kick, "kick.saturation", 0));
    expect(types(moved, "kick")[0]).toBe("saturation");
    expect(moved.mics[0]!.chain[0]!.type).toBe("cancel");
    expect(moved.mics[0]!.chain.at(-1)!.type).toBe("pan");
    expect(types(after(withoutProcessor(kick, "kick.eq")), "kick")).not.toContain("eq");
  });
  test("copied onto mics and buses, whole or behind one; ids are new, keys stay where they can", () => {
    const keyed = after({ op: "setProcessor", owner: "kick", processor: "kick.gate", key: "snare" });
    const chain = keyed.mics[0]!.chain;
    const onto = [keyed.mics[1]!, keyed.buses.find((b) => b.id === "room")!];
    const whole = after(pasted(keyed, onto, chain, { replace: true }), keyed);
    expect(types(whole, "snare")).toEqual(types(keyed, "kick"));
    expect(types(whole, "room")).toEqual(types(keyed, "kick"));
    const gates = [whole.mics[1]!, whole.buses.find((b) => b.id === "room")!].map((o) =>
      o.chain.find((p) => p.type === "gate")!,
    );
    expect(gates.map((g) => g.key)).toEqual([undefined, "snare"]);
    expect(gates.map((g) => g.id)).toEqual(["snare.gate", "room.gate"]);
    const behind = after(
      pasted(keyed, [keyed.mics[0]!], [chain.find((p) => p.type === "gate")!], { after: "kick.eq" }),
      keyed,
    );
    expect(types(behind, "kick")).toEqual(["gate", "dynamicEq", "eq", "gate", "compressor", "saturation"]);
  });
  test("values of sections that another song does not have stay behind", () => {
    const state = { ...kick.chain.find((p) => p.type === "eq")!, bySection: { verse: { bell1Gain: 3 } } };
    expect(copiesFor(song, kick, [state], [])[0]).not.toHaveProperty("bySection");
    const sections = [{ id: "verse", name: "Verse", from: 0, to: 1 }];
    expect(copiesFor({ ...song, sections }, kick, [state], [])[0]!.bySection).toEqual({
      verse: { bell1Gain: 3 },
    });
  });
  test("what one begins with", () => {
    expect(partsOf(freshChain(kick)).free.every((p) => !p.on)).toBe(true);
    expect(freshChain(song.buses[0]!).map((p) => p.type)).toEqual(["compressor", "eq"]);
    expect(freshChain(newBus("x", "X", "group"))).toEqual([]);
  });
});

describe("buses that one adds", () => {
  test("a parallel copy is fed by one alone, goes where it goes, and is undone in one step", () => {
    const grouped = applyAll(song, [
      addedBus(song, "Shells", "kit").operation,
      { op: "setMic", mic: "kick", values: { output: "bus" } },
    ]);
    const { id, operation } = parallelCopy(grouped, grouped.mics[0]!, "input");
    const { song: now, inverse } = applyOperation(grouped, operation);
    expect(now.buses.find((b) => b.id === id)).toMatchObject({
      name: "kick parallel",
      output: "bus",
      kind: "parallel",
      piece: "kick",
    });
    expect(now.mics[0]!.sends).toEqual([{ bus: id, level: 0, from: "input", followsPan: true }]);
    expect(applyOperation(now, inverse).song).toEqual(grouped);
    const second = parallelCopy(now, now.mics[0]!, "chain");
    expect(second.id).not.toBe(id);
    const ofKit = parallelCopy(now, now.buses.at(-1)!, "chain");
    expect(() => applyOperation(now, ofKit.operation)).toThrow("wait for each other");
  });
});
