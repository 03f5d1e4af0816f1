import { describe, expect, test } from "@jest/globals";
import { bandEnergies } from "../hits/bandEnergies";
import { noise } from "../testing/signals";
import { measureTails } from "./tails";

const rate = 48000;
const strokes = Array.from({ length: 10 }, (_, i) => 0.4 + i);
/** Strokes of a tone that decays to 1/e in `decay` s, over steady noise as bleed. */
function mic(hz: number, decay: number, bleed: number): Float32Array {
  const x = noise(11 * rate, 2, bleed);
  for (const t of strokes)
    for (let i = 0; i < rate; i++)
      x[Math.round(t * rate) + i]! +=
        0.5 * Math.exp(-i / rate / decay) * Math.sin((2 * Math.PI * hz * i) / rate);
  return x;
}
const tails = (x: Float32Array) => measureTails(bandEnergies(x, rate), strokes, strokes);

describe("tails of a drum", () => {
  // By its own decay the tone's power 0.125 exp(-2t/d) meets the noise's power at a known instant; in bands it is later.
  test.each([
    [0.08, 0.02],
    [0.12, 0.02],
    [0.12, 0.006],
  ])("a decay of %f s over bleed of %f is held open until it meets the bleed", (decay, bleed) => {
    const found = tails(mic(180, decay, bleed))!;
    const noisePower = noise(rate, 2, bleed).reduce((s, v) => s + v * v, 0) / rate;
    const meets = 0.5 * decay * Math.log(0.125 / noisePower);
    expect(found.whole.hold).toBeGreaterThan(0.75 * meets);
    expect(found.whole.hold).toBeLessThan(1.35 * meets);
    expect(found.strokes).toBe(10);
  });
  test("a low tone lets the high band close at once", () => {
    const found = tails(mic(90, 0.2, 0.01))!;
    expect(found.high.hold).toBeLessThan(0.06);
    expect(found.low.hold).toBeGreaterThan(0.25);
    expect(found.errorAfter).toBeLessThan(found.errorBefore - 2);
  });
  test("louder bleed closes it earlier; without strokes nothing is told", () => {
    expect(tails(mic(180, 0.15, 0.05))!.whole.hold).toBeLessThan(tails(mic(180, 0.15, 0.005))!.whole.hold);
    const x = mic(180, 0.1, 0.01);
    expect(measureTails(bandEnergies(x, rate), [], [])).toBeNull();
  });
});
