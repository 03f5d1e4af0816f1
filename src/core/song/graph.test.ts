import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { testSong } from "../testing/songs";
import { newBus, newProcessor } from "./create";
import { checkGraph, depths, mixOrder, needs, possibleKeys, possibleTargets, reaches } from "./graph";
import { applyAll, applyOperation } from "./operations";
import type { Bus, Send, Song } from "./song";

const send = (bus: string): Send => ({ bus, level: 0, from: "fader", followsPan: true });
const { song } = testSong();
const chained = applyAll(song, [
  { op: "addBuses", buses: [newBus("a", "A", "group", { output: "b" }), newBus("b", "B", "group")] },
  { op: "setMic", mic: "kick", values: { output: "a" } },
]);

describe("who feeds whom", () => {
  test("a bus is computed after all that goes into it, sends and keys included", () => {
    const keyed = applyAll(chained, [
      { op: "setSends", owner: "b", sends: [send("room")] },
      { op: "setProcessor", owner: "squash", processor: "squash.compressor", key: "room" },
      { op: "setProcessor", owner: "oh", processor: "oh.gate", key: "a" },
    ]);
    const order = mixOrder(keyed).map((o) => o.id);
    const before = (x: string, y: string) => expect(order.indexOf(x)).toBeLessThan(order.indexOf(y));
    before("a", "b");
    before("b", "room");
    before("room", "squash");
    before("a", "oh");
    expect(order[order.length - 1]).toBe("kit");
    expect(order).not.toContain("kick");
    expect(depths(keyed).get("kit")).toBe(4); // a, b, room and kit on one way; squash only listens
  });
  test("loops of any kind are refused and named, and not offered", () => {
    const loop = { op: "setBus", bus: "b", values: { output: "a" } } as const;
    expect(() => applyOperation(chained, loop)).toThrow(/A, B.* wait for each other/);
    expect(() => applyOperation(chained, { op: "setSends", owner: "kit", sends: [send("a")] })).toThrow(
      "wait for each other",
    );
    const compressed = applyOperation(chained, {
      op: "setChain",
      owner: "a",
      chain: [newProcessor("a", "compressor", true)],
    }).song;
    expect(() =>
      applyOperation(compressed, { op: "setProcessor", owner: "a", processor: "a.compressor", key: "kit" }),
    ).toThrow("wait for each other");
    expect(possibleTargets(chained, "b").map((b) => b.id)).not.toContain("a");
    expect(possibleTargets(chained, "a").map((b) => b.id)).toContain("kit");
    expect(possibleKeys(chained, "a").map((o) => o.id)).not.toContain("kit");
    expect(possibleKeys(chained, "kick").map((o) => o.id)).toEqual(
      expect.arrayContaining(["snare", "oh", "squash"]),
    );
    expect(possibleKeys(chained, "kick").map((o) => o.id)).not.toContain("a");
  });
  test("whatever is offered is taken, whatever is not offered is refused", () => {
    const ids = ["a", "b", "c", "d"];
    const graph = fc.array(fc.tuple(fc.constantFrom(...ids), fc.constantFrom(...ids)), { maxLength: 6 });
    fc.assert(
      fc.property(graph, fc.constantFrom(...ids), (wishes, id) => {
        const buses = ids.map((b) => newBus(b, b, "group"));
        let now: Song = applyOperation(song, { op: "addBuses", buses }).song;
        for (const [from, to] of wishes)
          if (possibleTargets(now, from).some((b) => b.id === to))
            now = applyOperation(now, { op: "setBus", bus: from, values: { output: to } }).song;
        checkGraph(now);
        const offered = possibleTargets(now, id).map((b) => b.id);
        for (const { id: to } of now.buses as readonly Bus[]) {
          const set = () => applyOperation(now, { op: "setSends", owner: id, sends: [send(to)] });
          if (offered.includes(to)) expect(set).not.toThrow();
          else expect(set).toThrow();
        }
      }),
      { numRuns: 100 },
    );
  });
  test("reaching is what needing says", () => {
    expect(reaches(chained, "kick", "kit")).toBe(true);
    expect(reaches(chained, "snare", "b")).toBe(false);
    expect([...needs(chained).get("b")!]).toEqual(["a"]);
  });
});
