import { describe, expect, test } from "@jest/globals";
import { applyAll, type Operation } from "../song/operations";
import { noise } from "../testing/signals";
import { testMic, testSong } from "../testing/songs";
import { newSong } from "../song/create";
import { monoCheck, monoFrames } from "./monoCheck";

const set = (owner: string, type: string, params: Record<string, number | string>): Operation => ({
  op: "setProcessor",
  owner,
  processor: `${owner}.${type}`,
  params,
});
const stretch = (...channels: Float32Array[]) => channels.map((x) => [x]);
const x = noise(monoFrames, 5);
const two = newSong("two", 48000, [
  testMic("a", "tom1", "close", monoFrames),
  testMic("b", "tom2", "close", monoFrames),
]);
const hard = [set("a", "pan", { position: -100 }), set("b", "pan", { position: 100 })];

// Energy of (L + R) / sqrt 2 over that of L and R: closed forms.
describe("folding to mono", () => {
  test("what is in the middle loses nothing", () => {
    const centred = applyAll(two, [set("a", "pan", { position: 0 }), set("b", "pan", { position: 0 })]);
    for (const band of monoCheck(centred, [stretch(x, noise(monoFrames, 6))])) {
      expect(band.lossDb).toBeCloseTo(0, 3);
      expect(band.cause).toBeNull();
    }
  });
  test("unrelated sides lose 3 dB", () => {
    const stretches = Array.from({ length: 12 }, (_, i) =>
      stretch(noise(monoFrames, 20 + i), noise(monoFrames, 60 + i)),
    );
    for (const band of monoCheck(applyAll(two, hard), stretches).slice(3))
      expect(band.lossDb).toBeCloseTo(-3, 0);
  });
  test("opposite sides cancel; turned over they are whole again", () => {
    const opposite = applyAll(two, [...hard, set("b", "polarity", { polarity: "inverted" })]);
    for (const band of monoCheck(opposite, [stretch(x, x)])) expect(band.lossDb).toBeLessThan(-60);
    for (const band of monoCheck(applyAll(two, hard), [stretch(x, x)])) expect(band.lossDb).toBeCloseTo(0, 3);
  });
  test("the mic that cancels is named in the bands where it does", () => {
    const { song } = testSong(monoFrames);
    const y = noise(monoFrames, 9);
    const placed = applyAll(song, [
      set("kick", "pan", { position: 0 }),
      set("snare", "pan", { position: -100 }),
      { op: "setMic", mic: "oh", values: { muted: true } },
    ]);
    // The snare mic holds the kick upside down on one side only: the sides then differ.
    const bands = monoCheck(placed, [[[x], [x.map((v, i) => -1.2 * v + 0.1 * y[i]!)], [x, x]]]);
    for (const band of bands.slice(2)) expect(band.cause?.mic).toBe("snare");
  });
});
