import { describe, expect, test } from "@jest/globals";
import { busInput } from "../engine/busInput";
import { memoryStretch } from "../engine/memoryStretch";
import { firstOf } from "../song/create";
import { kitOf } from "../song/graph";
import { applyOperation } from "../song/operations";
import { putProcessor } from "../song/putProcessor";
import { drumPieces, type Song } from "../song/song";
import { testSong } from "../testing/songs";
import { fitPath, withPath } from "./fitPath";
import { fitGlue, fitRounding, glue, rounding } from "./kitFinish";
import { recipes } from "./recipes";
import { memoryTrial } from "./trial";

const rate = 48000;
const frames = 12 * rate;
const times = Array.from({ length: 20 }, (_, i) => 0.5 + 0.5 * i);
const { song: small } = testSong(frames);
const song: Song = {
  ...small,
  hits: times.map((time) => ({ piece: "snare", time, levelDb: -6, ghost: false, kind: "stroke", sure: 1 })),
};
/** Bursts of 150 ms of one level in the snare's mic, so long that a slow detector comes to its end. */
const bursts = new Float32Array(frames);
for (const t of times)
  for (let i = 0; i < 0.15 * rate; i++)
    bursts[Math.round(t * rate) + i] = 0.5 * Math.sin((2 * Math.PI * 1000 * i) / rate);
const silence = () => new Float32Array(frames);
const audio = [[silence()], [bursts], [silence(), silence()]];

const trialAt = (type: string, params: object) => {
  const would = applyOperation(song, putProcessor(kitOf(song), type, { ...params }, true)).song;
  return memoryTrial(would, audio, kitOf(would), firstOf(kitOf(would), type)!);
};

describe("what is fitted to a kit in memory", () => {
  test("glue: the threshold is that of the closed form, and the makeup brings the loudness back", async () => {
    const { params } = await fitGlue(trialAt("compressor", glue));
    const { from, stretch } = memoryStretch(song, audio, drumPieces);
    const peak = busInput(song, kitOf(song).id, stretch, from)[0]!.reduce(
      (m, v) => Math.max(m, Math.abs(v)),
      0,
    );
    // Soft knee W, ratio R: (1 - 1/R)(d + W/2)^2 / 2W = 1.5 dB at d = 3 dB over it (Giannoulis, Massberg, Reiss, JAES 60, 2012, eq. 4).
    expect(Math.abs((params["threshold"] as number) - (20 * Math.log10(peak) - 3))).toBeLessThan(1);
    expect(params["makeup"] as number).toBeGreaterThan(0.5);
    expect(params["makeup"] as number).toBeLessThan(1.6);
  });
  test("rounding: peaks come down by 1 dB at the same loudness, and what is told is what is set", async () => {
    const trial = trialAt("saturation", rounding);
    const { params, told } = await fitRounding(trial);
    const { louder, peaks } = await trial.effect(params);
    expect(Math.abs(louder)).toBeLessThan(0.1);
    expect(Math.abs(peaks + 1)).toBeLessThan(0.15);
    expect(told).toContain("peaks of half of the strokes −1.0 dB");
  });
  test("a path: half of the strokes are brought down as the recipe wants, as loud as they came, at the level one asks for", async () => {
    const recipe = recipes.find((r) => r.id === "crushed")!;
    const made = await withPath(song, recipe, -9, (s, bus, state) => memoryTrial(s, audio, bus, state));
    const bus = made.buses.find((b) => b.id === "path-crushed")!;
    expect(bus.level).toBe(-9);
    const trial = memoryTrial(made, audio, bus, firstOf(bus, "compressor")!);
    expect(Math.abs((await trial.effect({})).louder)).toBeLessThan(0.1);
    expect(await fitPath(trial, recipe.wishedDb!)).toMatchObject({
      threshold: firstOf(bus, "compressor")!.params["threshold"],
    });
  });
});
