import { describe, expect, test } from "@jest/globals";
import { processChain } from "../engine/processChain";
import { resolveParams, type ParamTable } from "../params";
import { processorTypes } from "../processors";
import { gainToDb } from "../signal/level";
import type { ProcessorState } from "../song/song";
import { randomSource } from "../signal/random";
import { largestDifference } from "../testing/signals";
import { runInParts } from "./runInParts";

const sampleRate = 16000;
const seconds = 40;

/** Strokes of a drum that differ in level, over quiet noise. */
function recording(channels: number) {
  const random = randomSource(5);
  const hits: number[] = [];
  const sound = Array.from({ length: channels }, () => new Float32Array(seconds * sampleRate));
  for (let at = 2000; at < sound[0]!.length - 8000; at += 5000 + Math.floor(4000 * random())) {
    hits.push(at);
    const level = 0.1 + 0.8 * random();
    for (const x of sound)
      for (let i = 0; i < 4000; i++) x[at + i] = x[at + i]! + level * Math.exp(-i / 900) * Math.sin(0.08 * i);
  }
  for (const x of sound) for (let i = 0; i < x.length; i++) x[i] = x[i]! + 0.002 * (random() - 0.5);
  return { sound, hits: Float64Array.from(hits) };
}

/** What is pictured over strokes, at settings that work. */
const pictured = processorTypes.filter(({ picture }) => picture?.over === "strokes");
const worked: Record<string, Record<string, number>> = {
  compressor: { threshold: -30, ratio: 4, attack: 0.02, release: 1 },
  limiter: { ceiling: -20 },
  clipper: { ceiling: -12 },
};

describe.each([1, 2])("%i channels in parts", (channels) => {
  test.each(pictured.map((type) => [type.type, type] as const))("%s as in one run", (name, type) => {
    const { sound, hits } = recording(channels);
    const state: ProcessorState = {
      id: "p",
      type: name,
      on: true,
      params: resolveParams<ParamTable>(type.params, worked[name] ?? {}),
    };
    const whole = processChain([state], sound, sampleRate, hits)[0]!;
    const { after, reduction } = runInParts(state, sound, sampleRate, hits);
    // A figure of a picture has one place behind the point; -70 dB moves it by 0.003 dB.
    expect(gainToDb(largestDifference(whole, after))).toBeLessThan(-70);
    expect(after.some((v) => v !== 0)).toBe(true);
    expect(reduction).toHaveLength(Math.ceil(whole.length / 128));
  });
});
