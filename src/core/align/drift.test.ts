import { describe, expect, test } from "@jest/globals";
import { delayed } from "../signal/fractionalDelay";
import { noise } from "../testing/signals";
import { everyHalfSecond, strokes } from "../testing/strokes";
import { estimateDelay } from "./delays";
import { measureDrift } from "./drift";

const rate = 48000;
const range = { from: -0.006, to: 0.012 };
const onsets = everyHalfSecond(48);
const frames = rate * 26;
const main = strokes(frames, onsets);

/** The same strokes as a recorder hears them whose clock runs off: every stroke a little later than the one before. */
function drifting(ppm: number, delay: number): Float32Array {
  const y = noise(frames, 3, 0.002);
  for (const t of onsets) {
    const from = t - 2000;
    const part = delayed(main.slice(from, from + 16000), delay + ppm * 1e-6 * t);
    for (let i = 0; i < part.length; i++) y[from + i]! += 0.7 * part[i]!;
  }
  return y;
}

// The truth is how the second signal was made.
describe("a clock that runs off", () => {
  test.each([
    [20, 60.3],
    [-35, 200],
    [8, -30],
  ])("%d ppm is found within one ppm, and the delay at the start within half a frame", (ppm, delay) => {
    const second = drifting(ppm, delay);
    const found = measureDrift(main, second, onsets, range, rate)!;
    expect(Math.abs(found.ppm - ppm)).toBeLessThan(1);
    expect(Math.abs(found.delayAtStart - delay)).toBeLessThan(1);
    const corrected = estimateDelay(main, second, onsets, range, rate, found.ppm)!;
    expect(Math.abs(corrected.delay - delay)).toBeLessThan(0.5);
    expect(corrected.polarity).toBe(1);
  });
  test("one clock for both is no drift, nor is a jump or noise", () => {
    expect(measureDrift(main, drifting(0, 40), onsets, range, rate)).toBeNull();
    expect(measureDrift(main, noise(frames, 8), onsets, range, rate)).toBeNull();
  });
  test("too few strokes tell nothing", () => {
    expect(measureDrift(main, drifting(30, 40), onsets.slice(0, 12), range, rate)).toBeNull();
  });
});
