import { expect, test } from "@jest/globals";
import { addedProcessor } from "../song/chainEdits";
import { partsOf, withFree } from "../song/chain";
import { applyAll, type Operation } from "../song/operations";
import type { Proposal } from "../song/proposal";
import { testSong } from "../testing/songs";
import { takeTogether } from "./takeTogether";

const { song: plain } = testSong();
const kick = plain.mics[0]!;
const emptied = applyAll(plain, [{ op: "setChain", owner: "kick", chain: withFree(kick.chain, []) }]);
const proposal = (id: string, operation: Operation): Proposal => ({
  id,
  step: "shape",
  owner: "kick",
  sentence: id,
  figure: "",
  operation,
});
const put = (type: string) => proposal(type, addedProcessor(emptied.mics[0]!, type).operation);
const types = (operations: readonly Operation[]) =>
  partsOf(applyAll(emptied, operations).mics[0]!.chain).free.map((p) => p.type);

test("each of several proposals that put a processor into one chain is there, in the order they were taken", () => {
  const taken = takeTogether(emptied, [put("eq"), put("compressor"), put("saturation")]);
  expect(types(taken)).toEqual(["eq", "compressor", "saturation"]);
});
test("also inside of several operations, beside one for another mic", () => {
  const gate = addedProcessor(emptied.mics[1]!, "gate").operation;
  const several = proposal("both", { op: "several", operations: [put("eq").operation, gate] });
  const taken = takeTogether(emptied, [put("clipper"), several]);
  expect(types(taken).sort()).toEqual(["clipper", "eq"]);
});
test("two for one chain inside of one proposal", () => {
  const operations = [put("eq").operation, put("limiter").operation];
  expect(types(takeTogether(emptied, [proposal("two", { op: "several", operations })]))).toEqual([
    "eq",
    "limiter",
  ]);
});
test("values that one proposal sets stay when another puts a processor beside", () => {
  const gate = plain.mics[0]!.chain.find((p) => p.type === "gate")!;
  const set = proposal("gate", {
    op: "setProcessor",
    owner: "kick",
    processor: gate.id,
    on: true,
    params: { threshold: -41 },
  });
  const added = proposal("ringTamer", addedProcessor(plain.mics[0]!, "ringTamer").operation);
  for (const both of [
    [set, added],
    [added, set],
  ]) {
    const { chain } = applyAll(plain, takeTogether(plain, both)).mics[0]!;
    expect(chain.find((p) => p.id === gate.id)).toMatchObject({ on: true, params: { threshold: -41 } });
    expect(chain.some((p) => p.type === "ringTamer")).toBe(true);
  }
});
test("what stands alone is done as it was proposed", () => {
  const one = put("eq");
  expect(takeTogether(emptied, [one])).toEqual([one.operation]);
});
