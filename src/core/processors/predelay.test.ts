import { describe, expect, test } from "@jest/globals";
import { plainContext } from "../processor";
import { resolveParams } from "../params";
import { partitionResponse } from "../signal/partitionedResponse";
import { impulse } from "../testing/signals";
import { processorType } from ".";
import { predelaySeconds } from "./predelay";

const rate = 48000;
/** Beats at 120 a minute that wander by a frame or two. */
const beats = Float64Array.from({ length: 17 }, (_, i) => 1000 + 24000 * i + (i % 2));

describe("pre-delay by beats", () => {
  test.each([
    ["1/16 beat", 0.5 / 16],
    ["1/6 beat", 0.5 / 6],
    ["1/4 beat", 0.125],
    ["1/2 beat", 0.25],
  ] as const)("%s at 120 a minute", (predelayBy, seconds) => {
    expect(predelaySeconds({ predelay: 0.01, predelayBy }, beats, rate)).toBeCloseTo(seconds, 4);
  });
  test("without a tempo the seconds count, and it never waits longer than it can", () => {
    const v = { predelay: 0.01, predelayBy: "1/2 beat" } as const;
    expect(predelaySeconds(v, new Float64Array(0), rate)).toBe(0.01);
    expect(predelaySeconds(v, Float64Array.of(0), rate)).toBe(0.01);
    expect(predelaySeconds(v, Float64Array.of(0, 10 * rate), rate)).toBe(0.5);
    expect(predelaySeconds(v, Float64Array.of(5, 5), rate)).toBe(0);
  });
});

/** Frame at which a space first answers an impulse. */
function answers(type: string, values: Record<string, string | number>, withBeats: boolean): number {
  const p = processorType(type).create();
  p.prepare({ sampleRate: rate, channels: 2, maxFrames: 512 });
  p.set(resolveParams(processorType(type).params, { ...values, predelay: 0.02 }));
  p.respond?.(partitionResponse([impulse(512)]));
  p.reset();
  const x = impulse(24576, 0);
  const out = [new Float32Array(x.length), new Float32Array(x.length)];
  for (let at = 0; at < x.length; at += 512) {
    const block = x.subarray(at, at + 512);
    p.process(
      [block, block],
      out.map((y) => y.subarray(at, at + 512)),
      512,
      { ...plainContext(at), beats: withBeats ? beats : new Float64Array(0) },
    );
  }
  const most = Math.max(...out[0]!.map(Math.abs));
  return out[0]!.findIndex((v) => Math.abs(v) > 0.1 * most);
}

test.each([
  ["reverb", { kind: "plate", lowCut: 20 }],
  ["shortSpace", { shape: "gated" }],
  ["recordedSpace", { lowCut: 20, highCut: 20000 }],
])("%s waits for a share of the beat", (type, values) => {
  const early = answers(type, { ...values, predelayBy: "seconds" }, true);
  const late = answers(type, { ...values, predelayBy: "1/4 beat" }, true);
  expect(late - early).toBe(0.125 * rate - 0.02 * rate);
  expect(answers(type, { ...values, predelayBy: "1/4 beat" }, false)).toBe(early);
});
