import { expect, test } from "@jest/globals";
import { noFacts } from "./facts";
import { readFacts } from "./readFacts";

const facts = {
  ...noFacts,
  pairs: {
    m2: {
      polarity: -1,
      delaySamples: 12.5,
      confidence: 0.9,
      gainDb: 3,
      strokes: 40,
      thin: false,
      driftPpm: 0,
    },
  },
  faults: { m1: { clips: { count: 1, times: [2.5] }, noiseDb: null, dc: 0 } },
  cleaning: {
    m1: {
      way: "gated",
      verdict: { bleedDb: -20, strokesDb: 0, ghostsKept: 3, ghosts: 3, sustainDb: -1, decay: null },
    },
  },
  events: {
    kick: { piece: "kick", events: [{ time: 1, levelDb: -6, peakDb: -8, brightness: 2, excess: 12 }] },
  },
};

test("facts of an archive are read as they are; silence, which JSON tells as null, is no fault", () => {
  expect(readFacts(JSON.parse(JSON.stringify(facts)), true)).toEqual(JSON.parse(JSON.stringify(facts)));
  expect(readFacts(null, true)).toBeNull();
});
test("damaged facts are refused and named in a song of today, and left out of one from before", () => {
  const bad = { ...facts, pairs: { m2: { ...facts.pairs.m2, polarity: 0 } } };
  expect(() => readFacts(bad, true)).toThrow("the facts.pairs.m2.polarity is 0; it must be 1 or -1");
  expect(readFacts(bad, false)).toMatchObject({ pairs: {}, faults: facts.faults });
  expect(() => readFacts({ ...facts, tone: { m1: { fundamental: "low" } } }, true)).toThrow(
    "the facts.tone.m1",
  );
  expect(() => readFacts({ colour: {} }, true)).toThrow('unknown kind "colour"');
  expect(() => readFacts([], true)).toThrow("no object");
});
