import { expect, test } from "@jest/globals";
import { beatBytes, makeBeat } from "../../../demo/beatSong";
import { largestDifference } from "../../core/testing/signals";
import { audioOfMics, readWhole } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { bring, smallSong, songOf, withDatabase } from "../testing/database";
import { createSong } from "./createSong";
import { stepHistory } from "./editSong";
import { takeLoopApart } from "./takeLoopApart";

const [loop] = makeBeat().files;
const versionOf = async (id: string) => (await findSong(pool(), id))!.version;

withDatabase("a stored loop", () => {
  test("becomes tracks that add up to it to the bit, and one step back it is whole", async () => {
    const id = await createSong("apart");
    await bring(id, "Break loop.wav", beatBytes(loop!));
    const before = await songOf(id);
    const [mic] = before.mics;
    const { song } = await takeLoopApart(id, mic!.id, await versionOf(id));
    const placed = await audioOfMics(pool(), id, song);
    const read = async (file: string) =>
      readWhole(pool(), placed[song.mics.findIndex((m) => m.file === file)]!);
    const [whole] = await read("Break loop.wav");
    const sum = new Float32Array(whole!.length);
    for (const part of ["kick", "snare", "hat", "rest"])
      (await read(`Break loop ${part}.wav`))[0]!.forEach((v, i) => (sum[i] = sum[i]! + v));
    expect(largestDifference(sum, whole!)).toBe(0);
    expect(song.mics.find((m) => m.id === mic!.id)!.muted).toBe(true);
    expect(new Set(song.hits.map((h) => h.piece))).toEqual(new Set(["kick", "snare", "hat"]));
    await stepHistory(id, await versionOf(id), "undo");
    expect(await songOf(id)).toEqual(before);
  });
  test("strokes that were corrected stay, and decide what is taken out", async () => {
    const id = await createSong("corrected");
    await bring(id, "Break loop.wav", beatBytes(loop!));
    const { song: once } = await takeLoopApart(id, (await songOf(id)).mics[0]!.id, await versionOf(id));
    expect(once.hits.length).toBeGreaterThan(50);
    // Taken apart a second time, its drums have mics: nothing of the song's strokes changes.
    const { song: twice } = await takeLoopApart(
      id,
      once.mics.find((m) => m.file === "Break loop.wav")!.id,
      await versionOf(id),
    );
    expect(twice.hits).toEqual(once.hits);
  });
  test("what is no loop, or not as it was, is refused and nothing is changed", async () => {
    const id = await smallSong("no loop", 41);
    const before = await songOf(id);
    const [kick] = before.mics;
    await expect(takeLoopApart(id, kick!.id, await versionOf(id))).rejects.toThrow("is no loop");
    await expect(takeLoopApart(id, "m99", await versionOf(id))).rejects.toThrow("no such loop");
    expect(await songOf(id)).toEqual(before);
  });
});
