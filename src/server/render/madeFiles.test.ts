import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beatBytes, beatSampleRate, makeBeat } from "../../../demo/beatSong";
import { newSong } from "../../core/song/create";
import { isLayer, type Song } from "../../core/song/song";
import { largestDifference } from "../../core/testing/signals";
import { testMic } from "../../core/testing/songs";
import { withLayer } from "./layerFiles";
import { withLoopApart } from "./loopFiles";

const { files, strokes } = makeBeat();
const [loop, claps] = files;
const folder = mkdtempSync(join(tmpdir(), "jubo-made-"));
beforeAll(() => writeFileSync(join(folder, "claps.wav"), beatBytes(claps!)));
afterAll(() => rmSync(folder, { recursive: true }));

/** A song of the loop alone, unlabelled. */
const mic = { ...testMic("l", "context", "pair", loop!.channels[0]!.length, 2), file: loop!.file };
const song: Song = newSong("beat", beatSampleRate, [mic]);
const audio = new Map([[loop!.file, loop!.channels]]);

describe("a loop taken apart from the command line", () => {
  const { song: apart, parts } = withLoopApart(song, loop!.file, audio);
  test("its parts add up to it, and its strokes are those of the song", () => {
    const sum = new Float32Array(loop!.channels[0]!.length);
    for (const { channels } of parts) channels[0]!.forEach((v, i) => (sum[i] = sum[i]! + v));
    expect(parts.map((p) => p.file)).toEqual(
      ["kick", "snare", "hat", "rest"].map((n) => `Break loop ${n}.wav`),
    );
    // A loop of 32-bit numbers: to a rounding.
    expect(largestDifference(sum, loop!.channels[0]!)).toBeLessThan(2 ** -23);
    const kicks = apart.hits.filter((h) => h.piece === "kick");
    expect(Math.abs(kicks.length - strokes.filter((s) => s.drum === "kick").length)).toBeLessThan(3);
  });
  test("a layer under its snare is in phase, and claps of one file are alternates", async () => {
    const all = new Map([...audio, ...parts.map((p) => [p.file, p.channels] as const)]);
    const {
      song: layered,
      file,
      channels,
    } = await withLayer(apart, { drum: "snare", files: [join(folder, "claps.wav")] }, all);
    const layer = layered.mics.find(isLayer)!;
    expect(layer.file).toBe(file);
    expect(layer.layer.sounds.map((s) => s.name)).toEqual(["claps 1", "claps 2", "claps 3"]);
    expect(layer.frames).toBe(channels[0]!.length);
    expect(layer.layer.shifts).toHaveLength(apart.hits.filter((h) => h.piece === "snare" && !h.ghost).length);
  });
  test.each([
    [
      "a loop that is not there",
      () => withLoopApart(song, "no.wav", audio),
      "the folder holds Break loop.wav",
    ],
    [
      "a file without strokes",
      () => withLoopApart(song, loop!.file, new Map([[loop!.file, [new Float32Array(9000)]]])),
      "Break loop.wav: no stroke",
    ],
  ])("%s is refused by name", (_, work, words) => {
    expect(work).toThrow(words);
  });
  test.each([
    ["a drum that is not struck", { drum: "floor", files: ["x.wav"] }, "no stroke of floor"],
    ["a file that is not there", { drum: "snare", files: ["x.wav"] }, "x.wav"],
  ] as const)("%s is refused by name", async (_, wish, words) => {
    await expect(withLayer(apart, wish, audio)).rejects.toThrow(words);
  });
});
