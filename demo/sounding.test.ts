import { describe, expect, test } from "@jest/globals";
import { delayed } from "../src/core/signal/fractionalDelay";
import { noise } from "../src/core/testing/signals";
import { addBetween, addDelayed, sounding } from "./sounding";

/** Strokes in silence: at the begin, near each other, far away, at the end. */
function strokes(): Float32Array {
  const x = new Float32Array(60_000);
  [0, 9000, 13_500, 40_000, 59_700].forEach((at, n) => x.set(noise(300, n + 1), at));
  return x;
}

describe("a sound that is silent most of the time", () => {
  test("is divided into the stretches in which it sounds", () => {
    const { stretches } = sounding(strokes());
    expect(stretches).toEqual([
      [0, 1024],
      [8192, 14_336],
      [39_936, 40_960],
      [59_392, 60_000],
    ]);
    expect(sounding(new Float32Array(5000)).stretches).toEqual([]);
  });
  test.each([0, 1, 700, -700, 59_999, 70_000])("is heard %i frames later as if it were whole", (frames) => {
    const x = strokes();
    const [heard, wanted] = [noise(60_000, 9), noise(60_000, 9)];
    addDelayed(heard, sounding(x), frames, 0.7);
    for (let i = Math.max(0, frames); i < Math.min(60_000, 60_000 + frames); i++)
      wanted[i]! += 0.7 * x[i - frames]!;
    expect(heard).toEqual(wanted);
  });
  test.each([0.25, 37.4, -80.5, 1900.75, 12])("is heard %d frames later between frames, too", (frames) => {
    const x = strokes();
    const [heard, wanted] = [noise(60_000, 9), noise(60_000, 9)];
    addBetween(heard, sounding(x), frames, 0.7);
    delayed(x, frames).forEach((v, i) => (wanted[i]! += 0.7 * v));
    expect(heard).toEqual(wanted);
  });
  test("a drum farther from its mic than a room is wide is refused", () => {
    expect(() => addBetween(new Float32Array(9), sounding(new Float32Array(9)), 2000, 1)).toThrow(RangeError);
  });
});
