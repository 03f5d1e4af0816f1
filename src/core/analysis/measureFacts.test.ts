import { expect, test } from "@jest/globals";
import { bandEnergies } from "../hits/bandEnergies";
import { hitAt } from "../testing/playing";
import { testMic } from "../testing/songs";
import { noise } from "../testing/signals";
import type { AnalysedMic, KitAnalysis } from "./analysed";
import { gatherFacts } from "./measureFacts";
import type { MicFactsAsk } from "./micFacts";
import { runHere, type MicTaskRunner } from "./micTasks";

const rate = 48000;
const mics = [
  testMic("room", "room", "pair", 2 * rate),
  testMic("top", "snare", "top", 2 * rate),
  { ...testMic("bottom", "snare", "bottom", 2 * rate), reference: "top" },
  testMic("kick", "kick", "in", rate),
];
const audio = mics.map((m, i) => [noise(m.frames, i + 1, 0.1)]);
const hits = [0.2, 0.6, 1.1, 1.5].map((time) => hitAt("snare", time));
const analysis: KitAnalysis = {
  sampleRate: rate,
  durationSeconds: 2,
  mics: mics.map((m): AnalysedMic => ({
    ...m,
    silent: false,
    unplayed: false,
    peakDbfs: -20,
    reference: m.reference && `${m.reference}.wav`,
    polarity: 1,
    delaySamples: 0,
    confidence: 0,
    strokes: 0,
    driftPpm: 0,
  })),
  arrivals: [],
  tempo: null,
  hits,
  events: [],
};

test("the longest facts are begun first, and each goes to its own mic", async () => {
  const begun: string[] = [];
  const run = (async (_kind: string, asks: readonly MicFactsAsk[]) =>
    asks.map(({ mic }) => {
      begun.push(mic.id);
      return { loudness: mic.frames + mics.indexOf(mic) };
    })) as unknown as MicTaskRunner;
  const { loudness } = await gatherFacts(mics, audio, analysis, { run, shaping: true });
  expect(begun).toEqual(["top", "bottom", "kick", "room"]);
  expect(loudness).toEqual({ room: 2 * rate, top: 2 * rate + 1, bottom: 2 * rate + 2, kick: rate + 3 });
});

test("energies that are known are not worked out again: others of them tell another tail", async () => {
  const options = { run: runHere, shaping: false };
  const plain = await gatherFacts(mics, audio, analysis, options);
  const same = new Map(audio.map(([x]) => [x!, bandEnergies(x!, rate)]));
  expect(await gatherFacts(mics, audio, analysis, { ...options, known: { energies: same } })).toEqual(plain);
  const burst = noise(2 * rate, 9, 0.1).map((v, i) => v * Math.exp(-(i % (rate / 2)) / 2000));
  const others = new Map([[audio[1]![0]!, bandEnergies(burst, rate)]]);
  const { tails } = await gatherFacts(mics, audio, analysis, { ...options, known: { energies: others } });
  expect(tails["top"]).not.toEqual(plain.tails["top"]);
  expect(tails["bottom"]).toEqual(plain.tails["bottom"]);
});
