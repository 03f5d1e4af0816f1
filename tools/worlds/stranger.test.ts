import { describe, expect, test } from "@jest/globals";
import { buzz } from "../../demo/simulate";
import { median } from "../../src/core/signal/level";
import { strangerKit } from "./strangerKit";
import { strangerSong } from "./strangerSong";

const seeds = [1, 2, 3, 4, 5, 6, 7, 8];
const songOf = (seed: number, hard = false) => {
  const kit = strangerKit(seed, hard);
  const pieces = new Set(kit.pieces.map((p) => p.piece));
  return { kit, song: strangerSong(seed, hard, (p) => pieces.has(p)) };
};

describe("a stranger's session", () => {
  test.each(seeds)("seed %d is the same every time, and other than its neighbour", (seed) => {
    expect(songOf(seed)).toEqual(songOf(seed));
    expect(songOf(seed).song.bpm).not.toBe(songOf(seed + 1).song.bpm);
  });
  test.each(seeds)(
    "seed %d: only what stands there is struck, in order of time, every drum mic has its drum",
    (seed) => {
      const { kit, song } = songOf(seed, seed % 2 === 0);
      const pieces = kit.pieces.map((p) => p.piece);
      expect(song.strikes.every((s) => pieces.includes(s.piece))).toBe(true);
      expect(song.strikes.every((s, i) => i === 0 || s.time >= song.strikes[i - 1]!.time)).toBe(true);
      for (const m of kit.mics) expect([...pieces, "overhead", "room"]).toContain(m.piece);
      expect(new Set(kit.mics.map((m) => m.file)).size).toBe(kit.mics.length);
    },
  );
  test("ghost notes lie 15 to 25 dB under the backbeat (common practice, no source), wires answer kicks and toms", () => {
    const all = seeds.flatMap((seed) => songOf(seed).song.strikes);
    // 40 dB over the range of a velocity.
    const level = (ghost: boolean) =>
      median(
        all
          .filter((s) => s.piece === "snare" && s.ghost === ghost && !s.how)
          .map((s) => 40 * (s.velocity - 1)),
      );
    expect(level(false) - level(true)).toBeGreaterThan(15);
    expect(level(false) - level(true)).toBeLessThan(25);
    const answered = all.filter((s) => s.piece === "kick" || /^tom|floor/.test(s.piece)).length;
    expect(all.filter((s) => s.piece === buzz)).toHaveLength(answered);
  });
  test("a hard session bleeds more than another", () => {
    const spill = (hard: boolean) =>
      median(seeds.flatMap((s) => strangerKit(s, hard).mics.flatMap((m) => Object.values(m.spill))));
    expect(spill(true) - spill(false)).toBeGreaterThan(2);
  });
});
