import { describe, expect, test } from "@jest/globals";
import { applyAll } from "../song/operations";
import { labelsOf, relabel } from "../song/relabel";
import { noise } from "../testing/signals";
import { testMic } from "../testing/songs";
import { newSong } from "../song/create";
import { measureAgain } from "../analysis/measureFacts";
import { factsNow, relabelledSince } from "./factsNow";
import { labelQuestions } from "../gather/labelQuestions";
import { noFacts, type Facts } from "./facts";

const rate = 48000;
const mics = [
  testMic("k", "kick", "in", 2 * rate),
  testMic("s", "tom1", "close", 2 * rate),
  testMic("oh", "overhead", "pair", 2 * rate, 2),
];
const hits = [0.3, 0.8, 1.3].map((time) => ({
  piece: "tom1" as const,
  time,
  levelDb: -8,
  ghost: false,
  kind: "stroke" as const,
  sure: 1,
}));
const song = { ...newSong("", rate, mics), hits, heardAs: labelsOf(mics) };
const arrival = { piece: "tom1", channel: 0, delaySamples: 90, polarity: 1, confidence: 0.8 } as const;
const facts: Facts = {
  ...noFacts,
  labels: labelsOf(mics),
  events: { tom1: { piece: "tom1", events: [] }, kick: { piece: "kick", events: [] } },
  arrivals: { oh: [arrival] },
  tone: { s: { fundamental: 180, ring: 700, ringDb: 3 } },
  loudness: { k: -20, s: -18 },
};
const relabelled = applyAll(song, relabel(song, ["s"], { piece: "floor" }));

describe("facts under new labels", () => {
  test("events and arrivals are those of the drum as it is called now", () => {
    const now = factsNow(relabelled, facts);
    expect(Object.keys(now.events).sort()).toEqual(["floor", "kick"]);
    expect(now.events["floor"]!.piece).toBe("floor");
    expect(now.arrivals["oh"]).toEqual([{ ...arrival, piece: "floor" }]);
    expect(relabelledSince(relabelled, facts)).toEqual(["s"]);
    expect(factsNow(song, facts)).toBe(facts);
  });
  test("what only holds for the old label of a mic is measured anew, what others tell stays", async () => {
    // A drum of 90 Hz, told within a bin of 6 Hz.
    const x = noise(2 * rate, 3).map((v) => 0.0005 * v);
    for (const { time } of hits)
      for (let i = 0; i < 0.4 * rate; i++)
        x[Math.round(time * rate) + i]! +=
          0.5 * Math.exp((-i / rate) * 9) * Math.sin((2 * Math.PI * 90 * i) / rate);
    const asked: string[] = [];
    const audioOf = async (m: { id: string }) => (asked.push(m.id), [x]);
    const now = await measureAgain(relabelled, ["s"], audioOf, facts);
    expect(asked).toEqual(["s"]);
    expect(now.tone["s"]!.fundamental).toBeGreaterThan(84);
    expect(now.tone["s"]!.fundamental).toBeLessThan(97);
    expect(now.loudness["k"]).toBe(-20);
    expect(now.arrivals["oh"]![0]!.piece).toBe("floor");
    expect(relabelledSince(relabelled, now)).toEqual([]);
  });
});

test("labels that are not sure are asked about, the least sure first; by hand, silent or by a clear word are not", () => {
  const sure = [0.4, 0.97, 0.2, 1, 0.3].map((s, i) => ({
    ...mics[0]!,
    id: `m${i}`,
    sure: s,
    silent: i === 4,
  }));
  expect(labelQuestions({ mics: sure }).map((m) => m.id)).toEqual(["m2", "m0"]);
});
