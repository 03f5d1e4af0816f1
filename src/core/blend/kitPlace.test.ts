import { describe, expect, test } from "@jest/globals";
import { applyAll } from "../song/operations";
import { renderedKit } from "../testing/renderedKit";
import { testSong } from "../testing/songs";
import { largestDifference } from "../testing/signals";
import { panLawOf, seenFrom, setPanLaw, turnKit } from "./kitPlace";

const { song, audio } = testSong();

describe("the place of the whole kit", () => {
  test("turned over, left is right, and back again", async () => {
    const turned = applyAll(song, [turnKit(song, "drummer")]);
    expect([seenFrom(song), seenFrom(turned)]).toEqual(["audience", "drummer"]);
    const [plain, other] = [await renderedKit(song, audio, 8000), await renderedKit(turned, audio, 8000)];
    expect(plain.reduce((most, v) => Math.max(most, Math.abs(v)), 0)).toBeGreaterThan(0.1);
    // Mid and side are made and undone: a rounding each.
    expect(largestDifference(other.subarray(0, 8000), plain.subarray(8000))).toBeLessThan(2 ** -22);
    expect(largestDifference(other.subarray(8000), plain.subarray(0, 8000))).toBeLessThan(2 ** -22);
    const back = applyAll(turned, [turnKit(turned, "audience")]);
    expect(seenFrom(back)).toBe("audience");
    const again = applyAll(back, [turnKit(back, "drummer")]);
    expect(seenFrom(again)).toBe("drummer");
    expect(again.buses.map((b) => b.chain.length)).toEqual(turned.buses.map((b) => b.chain.length));
  });
  test("one pan law for all mics, and none where they differ", () => {
    expect(panLawOf(song)).toBe("-3 dB");
    const wider = applyAll(song, [setPanLaw(song, "-6 dB")]);
    expect(panLawOf(wider)).toBe("-6 dB");
    const kick = song.mics[0]!;
    const pan = kick.chain.find((p) => p.type === "pan")!;
    const mixed = applyAll(wider, [
      { op: "setProcessor", owner: kick.id, processor: pan.id, params: { law: "0 dB" } },
    ]);
    expect(panLawOf(mixed)).toBeNull();
  });
});
