import { describe, expect, test } from "@jest/globals";
import { newProcessor } from "../song/create";
import { noise } from "../testing/signals";
import { bleedAlongChain } from "./bleedLift";

const rate = 48000;
const strokes = Array.from({ length: 8 }, (_, i) => rate * (0.5 + i));
const bleed = strokes.map((s) => s + 0.5 * rate);
/** Strokes at about -6 dBFS and bleed at about -30 dBFS half a second later. */
function mic(): Float32Array {
  const x = new Float32Array(9 * rate);
  const burst = noise(4800, 3).map((v, i) => v * Math.min(1, i / 480) * Math.exp(-i / 1500));
  strokes.forEach((s) =>
    x.set(
      burst.map((v) => 0.5 * v),
      s,
    ),
  );
  bleed.forEach((s) =>
    x.set(
      burst.map((v) => 0.03 * v),
      s,
    ),
  );
  return x;
}
const along = (...chain: ReturnType<typeof newProcessor>[]) =>
  bleedAlongChain(chain, [mic()], strokes, Float64Array.from(strokes), bleed, rate)!;

describe("bleed along the chain", () => {
  test("a gate takes its range off, a compressor of 4:1 gives back what it takes from the strokes", () => {
    const gate = newProcessor("m", "gate", true, { opens: "hits", range: 24, hold: 0.05, release: 0.03 });
    const compressor = newProcessor("m", "compressor", true, {
      threshold: -26,
      ratio: 4,
      knee: 0,
      attack: 0.0005,
      release: 0.1,
      makeup: 0,
    });
    const [raw, gated, compressed] = along(gate, compressor);
    expect(gated!.bleedToHit - raw!.bleedToHit).toBeCloseTo(-24, 0);
    // Strokes 20 dB over the threshold lose up to 15 dB, the bleed under it nothing: what comes up is at most that.
    const lift = compressed!.bleedToHit - gated!.bleedToHit;
    expect(lift).toBeGreaterThan(5);
    expect(lift).toBeLessThan(15.5);
  });
  test("a trim changes nothing; what is off is left out; without bleed there is nothing to tell", () => {
    const [raw, trimmed, ...rest] = along(
      newProcessor("m", "trim", true, { gain: 9 }),
      newProcessor("m", "gate"),
    );
    expect(trimmed!.bleedToHit - raw!.bleedToHit).toBeCloseTo(0, 1);
    expect(rest).toEqual([]);
    expect(bleedAlongChain([], [mic()], strokes, Float64Array.from(strokes), [], rate)).toBeNull();
  });
});
