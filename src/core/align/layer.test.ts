import { describe, expect, test } from "@jest/globals";
import { editedTime } from "../engine/timeline";
import { randomSource } from "../signal/random";
import { hitAt } from "../testing/playing";
import { noise } from "../testing/signals";
import { layerEdits, measureLayer } from "./layer";

const rate = 48000;
const delay = 0.0042;
/** A layer of equal one-shots, each off by its own stray. */
function layer(strays: readonly number[]): { x: Float32Array; hits: ReturnType<typeof hitAt>[] } {
  const x = new Float32Array(rate * (strays.length / 2 + 2));
  const shot = noise(6000, 8).map((v, i) => v * Math.exp(-i / 900));
  const hits = strays.map((_, i) => hitAt("snare", 0.5 + i / 2));
  strays.forEach((s, i) => x.set(shot, Math.round((hits[i]!.time + delay + s) * rate)));
  return { x, hits };
}
const random = randomSource(12);
const loose = Array.from({ length: 24 }, () => 0.008 * (random() - 0.5));

describe("a layer of one-shots", () => {
  test("strays are measured stroke by stroke, and its own cuts bring each to the drum", () => {
    const { x, hits } = layer(loose);
    const timing = measureLayer(x, hits, "snare", delay, rate)!;
    expect(timing.times).toHaveLength(24);
    const sorted = [...loose].sort((a, b) => a - b);
    const middle = (sorted[11]! + sorted[12]!) / 2;
    timing.strays.forEach((s, i) => expect(Math.abs(s - (loose[i]! - middle))).toBeLessThan(0.0003));
    const edits = layerEdits(timing, delay, rate);
    const heard = loose.map(
      (s, i) => editedTime(edits, hits[i]!.time + delay + s, rate) - hits[i]!.time - delay,
    );
    heard.forEach((h) => expect(Math.abs(h - middle)).toBeLessThan(0.0004));
  });
  test("one that lies the same at every stroke is left alone, and so is one with three strokes", () => {
    const { x, hits } = layer(loose.map(() => 0.001));
    expect(measureLayer(x, hits, "snare", delay, rate)).toBeNull();
    const few = layer(loose.slice(0, 3));
    expect(measureLayer(few.x, few.hits, "snare", delay, rate)).toBeNull();
  });
  test("strokes that the layer does not double are left out", () => {
    const { x, hits } = layer(loose);
    const more = [...hits, hitAt("snare", 0.75), hitAt("snare", 1.25), hitAt("kick", 0.9)];
    expect(measureLayer(x, more, "snare", delay, rate)!.times).toHaveLength(24);
  });
});
