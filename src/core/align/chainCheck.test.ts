import { describe, expect, test } from "@jest/globals";
import { applyAll, type Operation } from "../song/operations";
import { testSong } from "../testing/songs";
import { sine } from "../testing/signals";
import { checkChains, worthTelling } from "./chainCheck";

const { song } = testSong();
const times = [0.5, 1, 1.5, 2, 2.5, 3];
const audio = [sine(110, 0.5, 4)];
const set = (owner: string, type: string, params: Record<string, number | string>): Operation => ({
  op: "setProcessor",
  owner,
  processor: `${owner}.${type}`,
  params,
  on: true,
});
const check = (...operations: Operation[]) => {
  const { mics } = applyAll(song, operations);
  const chain = (id: string) => mics.find((m) => m.id === id)!.chain;
  return checkChains({ chain: chain("kick"), audio }, { chain: chain("snare"), audio }, times, 48000);
};

// Two mics with the same tone: what the sum does follows from the filters' phase.
describe("a pair at the end of its chains", () => {
  test("equal chains keep it as it was aligned", () => {
    const { alignedDb, endDb, cause } = check();
    expect(alignedDb).toBeCloseTo(3.01, 1);
    expect(endDb).toBeCloseTo(alignedDb, 1);
    expect(cause).toBeNull();
  });
  test("a steep high-pass at the tone in one mic turns it against the other, and is named", () => {
    // Butterworth of fourth order: -180 degrees at the corner, -3 dB.
    const turned = check(set("snare", "eq", { highPassSlope: "24", highPassFrequency: 110 }));
    expect(turned.endDb).toBeLessThan(turned.alignedDb - worthTelling);
    expect(turned.cause).toBe("snare.eq");
  });
  test("the same high-pass in both mics is no fault", () => {
    const eq = { highPassSlope: "24", highPassFrequency: 90 };
    expect(check(set("snare", "eq", eq), set("kick", "eq", eq)).cause).toBeNull();
  });
});
