import { describe, expect, test } from "@jest/globals";
import { resolveParams } from "../params";
import { thirdOctaves } from "../measure/thirdOctaves";
import { designEq, eqParams } from "../processors/eq/eq";
import { responseDb } from "../signal/biquad";
import { kitOf } from "../song/graph";
import { applyAll } from "../song/operations";
import { testSong } from "../testing/songs";
import { addedProcessor } from "../song/chainEdits";
import { broadEq, broadEqOf, broadGains, mostBroad, putBroadEq } from "./broadEq";

const rate = 48000;
/** A record that falls by 3 dB an octave, as pink noise does by bandwidth against white (textbook), from its middle. */
const record = thirdOctaves.map((f) => -20 - 3 * Math.abs(Math.log2(f / 500)));
/** The record through an EQ of other filters than those that are sought with. */
const through = (values: object) => {
  const sections = designEq(resolveParams(eqParams, { ...values }), rate);
  return thirdOctaves.map((f, i) => record[i]! + responseDb(sections, f, rate));
};
const gains = (found: ReturnType<typeof broadEq>) => broadGains.map((g) => found.params[g] as number);

describe("the broad EQ towards a record", () => {
  test("does nothing where the kit has the record's tone, however loud", () => {
    const found = broadEq(
      record.map((v) => v - 12),
      record,
      rate,
    );
    expect(gains(found)).toEqual([0, 0, 0, 0]);
    expect(found.before).toBeLessThan(1e-9);
  });
  test("takes back a shelf that lies elsewhere, within its limit, and tells how near it comes", () => {
    const found = broadEq(through({ lowShelfFrequency: 150, lowShelfGain: 2.5 }), record, rate);
    expect(gains(found)[0]).toBeLessThan(-1.8);
    expect(found.after).toBeLessThan(0.3 * found.before);
  });
  test("finds its own curve again", () => {
    const own = broadEq(record, record, rate).params;
    const bent = through({ ...own, lowShelfGain: 2, bell1Gain: -2, bell2Gain: 1, highShelfGain: -1.5 });
    const found = gains(broadEq(bent, record, rate));
    [-2, 2, -1, 1.5].forEach((g, i) => expect(Math.abs(found[i]! - g)).toBeLessThanOrEqual(0.2));
  });
  test("never goes further than a kit is bent, and says nothing of what cannot be compared", () => {
    const dull = through({ highShelfFrequency: 4000, highShelfGain: -18 });
    expect(Math.max(...gains(broadEq(dull, record, rate)).map(Math.abs))).toBeLessThanOrEqual(mostBroad);
    const silent = record.map((_, i) => (i < 5 ? -20 : -Infinity));
    expect(() => broadEq(silent, record, rate)).toThrow("too little of the kit and the record");
  });
});

test("the EQ that a record set is set again, added to what it does; an EQ of one's own stays as it is", () => {
  const found = broadEq(through({ lowShelfFrequency: 120, lowShelfGain: 2 }), record, rate);
  const plain = testSong().song;
  const own = applyAll(plain, [addedProcessor(kitOf(plain), "eq", 0, { bell3Gain: 4 }).operation]);
  const once = applyAll(own, [putBroadEq(kitOf(own), found).operation]);
  const eqs = (s: typeof own) => kitOf(s).chain.filter((p) => p.type === "eq" && p.on);
  expect(eqs(once)).toHaveLength(1 + eqs(own).length);
  expect(eqs(once).some((p) => p.params["bell3Gain"] === 4)).toBe(true);
  const twice = applyAll(once, [putBroadEq(kitOf(once), found).operation]);
  expect(eqs(twice)).toHaveLength(eqs(once).length);
  const low = found.params["lowShelfGain"] as number;
  expect(broadEqOf(kitOf(twice))!.params["lowShelfGain"]).toBeCloseTo(Math.max(-mostBroad, 2 * low), 5);
});
