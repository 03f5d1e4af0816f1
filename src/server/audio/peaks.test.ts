import { expect, test } from "@jest/globals";
import { noise } from "../../core/testing/signals";
import { PeakGatherer, peakLevels } from "./peaks";

test("peaks are the lowest and highest samples of every stretch, however the audio is split", () => {
  const x = noise(10_000, 4, 0.9);
  const whole = new PeakGatherer(1);
  whole.add([x], x.length);
  whole.close();
  const parts = new PeakGatherer(1);
  for (let i = 0; i < x.length; i += 333) parts.add([x.subarray(i, i + 333)], Math.min(333, x.length - i));
  parts.close();
  peakLevels.forEach((frames, level) => {
    const bytes = new Int8Array(whole.level(level));
    expect(parts.level(level).equals(whole.level(level))).toBe(true);
    expect(bytes.length).toBe(2 * Math.ceil(x.length / frames));
    for (let p = 0; p < bytes.length / 2; p++) {
      const part = x.subarray(p * frames, (p + 1) * frames);
      expect(bytes[2 * p]).toBe(Math.round(127 * Math.min(0, ...part)));
      expect(bytes[2 * p + 1]).toBe(Math.round(127 * Math.max(0, ...part)));
    }
  });
  expect(whole.peak).toBeCloseTo(Math.max(...x.map(Math.abs)), 6);
});
