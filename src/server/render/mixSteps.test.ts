import { beforeAll, describe, expect, test } from "@jest/globals";
import { simulate } from "../../../demo/simulate";
import { variedKit } from "../../../demo/varied";
import { balanceTargets } from "../../core/blend/balance";
import { aloneStrokes } from "../../core/blend/heardStrokes";
import { cutsOf } from "../../core/engine/cuts";
import { guessLabels } from "../../core/gather/labels";
import type { RecordedMic } from "../../core/analysis/analysed";
import { strokeLoudness } from "../../core/shape/strokeLoudness";
import { dbToPower, powerToDb } from "../../core/signal/level";
import { isShell, type Hit, type Piece } from "../../core/song/song";
import { renderedKit } from "../../core/testing/renderedKit";
import { mixSteps, type Mix } from "./mixSteps";

const rate = 48000;
let mix: Mix;
let kit: RecordedMic[];
/** A kit whose overheads were recorded by a second machine that runs fast by 30 ppm, mixed through Tighten. */
beforeAll(async () => {
  const varied = variedKit(407, 9);
  for (const m of varied.kit.mics) if (m.piece === "overhead") m.drift = 30;
  const { mics } = simulate(varied.kit, varied.song, rate, 407);
  const labels = guessLabels(mics.map((m) => ({ file: m.spec.file, channels: m.channels.length })));
  kit = mics.map((m, i) => ({ file: m.spec.file, label: labels[i]!, channels: m.channels }));
  kit.push({
    file: "bass.wav",
    label: { piece: "context", place: "close", sure: 1 },
    channels: [new Float32Array(mics[0]!.channels[0]!.length).fill(0.1)],
  });
  mix = await mixSteps("test", kit, rate, { through: "tighten", tighten: { strength: 1, window: 0 } });
}, 240_000);

describe("mix of a folder", () => {
  test("a second clock is corrected: the song says by how much, and what is played runs with the others", () => {
    for (const [i, m] of mix.song.mics.entries()) {
      if (m.piece !== "overhead") {
        expect(m.clockPpm).toBe(0);
        continue;
      }
      expect(Math.abs(m.clockPpm - 30)).toBeLessThan(3);
      expect(mix.mics[i]!.channels[0]!.length).toBeLessThan(kit[i]!.channels[0]!.length);
      expect(Math.abs(mix.analysis.mics[i]!.driftPpm)).toBeLessThan(1);
    }
  });
  test("the strokes lie on the grid, all mics of the kit are cut by one list, other music by none", () => {
    expect(mix.tightness!.spreadAfter).toBeLessThan(0.15 * mix.tightness!.spreadBefore);
    const cuts = cutsOf(mix.song);
    mix.song.mics.forEach((m, i) => expect(cuts[i]).toEqual(m.piece === "context" ? [] : [mix.song.edits]));
    expect(mix.song.edits.length).toBeGreaterThan(10);
    expect(mix.song.edits.every((e) => e.jumpDb !== null)).toBe(true);
  });
});

describe("the balance of a whole mix", () => {
  const strokes = (hits: readonly Hit[], piece: Piece) => aloneStrokes(hits, piece).map((h) => h.time * rate);
  test("in the finished kit shells lie within 3 dB of what is wanted of them, and nothing pokes out", async () => {
    const varied = variedKit(519, 8);
    const { mics } = simulate(varied.kit, varied.song, rate, 519);
    const labels = guessLabels(mics.map((m) => ({ file: m.spec.file, channels: m.channels.length })));
    const recorded = mics.map((m, i) => ({ file: m.spec.file, label: labels[i]!, channels: m.channels }));
    const { song } = await mixSteps("balance", recorded, rate, { through: "blend", tighten: {} });
    const frames = Math.min(song.frames, 40 * rate);
    const both = await renderedKit(
      song,
      mics.map((m) => m.channels),
      frames,
    );
    const sides = [both.subarray(0, frames), both.subarray(frames)];
    const loudness = (piece: Piece) =>
      powerToDb(
        sides.reduce(
          (sum, x) => sum + dbToPower(strokeLoudness(x, strokes(song.hits, piece), rate).whole),
          0,
        ),
      );
    const shells = [...new Set(song.hits.map((h) => h.piece))].filter(
      (p) => isShell(p) && p !== "snare" && strokes(song.hits, p).length > 2,
    );
    expect(shells).toContain("kick");
    for (const piece of shells)
      expect(Math.abs(loudness(piece) - loudness("snare") - balanceTargets[piece]!)).toBeLessThan(3);
    expect(20 * Math.log10(both.reduce((most, v) => Math.max(most, Math.abs(v)), 0))).toBeLessThan(-0.9);
  }, 240_000);
});
