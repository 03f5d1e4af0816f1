import { expect, test } from "@jest/globals";
import type { LayerSource } from "../../contract";
import { writeWav } from "../../core/file/wavWrite";
import { isLayer, type Mic } from "../../core/song/song";
import { noise } from "../../core/testing/signals";
import { audioOfMics, readWhole, stretchesOf } from "../audio/songAudio";
import { inTransaction, pool } from "../db/pool";
import { findSong, lockSong } from "../db/queries/song";
import { bring, smallSong, songOf, withDatabase } from "../testing/database";
import { addLayer } from "./addLayer";
import { changeLocked, stepHistory } from "./editSong";

/** Two sounds of 2000 frames with silence between them. */
function twoShots(seed: number): Uint8Array {
  const x = new Float32Array(20000);
  x.set(noise(2000, seed), 100);
  x.set(noise(2000, seed + 1, 0.2), 12000);
  return writeWav({ sampleRate: 48000, channels: [x] }, "wav32f");
}
/** Strokes of the snare, as if they had been found. */
async function struck(id: string, times: readonly number[]): Promise<void> {
  const hits = times.map((time) => ({
    piece: "snare" as const,
    time,
    levelDb: -6,
    ghost: false,
    kind: "stroke" as const,
    sure: 1,
  }));
  await inTransaction(async (db) =>
    changeLocked(db, (await lockSong(db, id))!, "Strokes", { op: "setSong", values: { hits } }),
  );
}

/** Adds a layer to the song as it is; the layer's mic. */
async function add(id: string, wish: LayerSource): Promise<Mic> {
  const { version } = (await findSong(pool(), id))!;
  const { song } = await addLayer(id, { ...wish, version });
  return song.mics.find(isLayer)!;
}

withDatabase("layers of a stored song", () => {
  test("files become the sounds of one track that plays at the strokes, and one step back they are files again", async () => {
    const id = await smallSong("layered", 31);
    await struck(id, [0.01, 0.03]);
    await bring(id, "Snap.wav", twoShots(5));
    const before = await songOf(id);
    const snap = before.mics.find((m) => m.file === "Snap.wav")!;
    const layer = await add(id, { drum: "snare", from: "files", files: [snap.id] });
    const song = await songOf(id);
    if (!isLayer(layer)) throw new Error("it is no layer");
    expect(layer.layer.sounds.map((s) => [s.name, s.frames])).toEqual([
      ["Snap 1", 2000],
      ["Snap 2", 2000],
    ]);
    expect(song.mics.some((m) => m.id === snap.id)).toBe(false);
    const placed = await audioOfMics(pool(), id, song);
    const [file] = await readWhole(pool(), placed[song.mics.findIndex((m) => m.id === layer.id)]!);
    const [first] = layer.layer.sounds;
    expect(file!.subarray(first!.from, first!.from + 2000)).toEqual(noise(2000, 5));
    // Measures hear it where it plays.
    const stretch = await (await stretchesOf(pool(), id, song))(0, 2400);
    expect(stretch[song.mics.findIndex((m) => m.id === layer.id)]![0]!.subarray(480, 1300)).toEqual(
      noise(2000, 5).subarray(0, 820),
    );
    await stepHistory(id, (await findSong(pool(), id))!.version, "undo");
    expect((await songOf(id)).mics).toEqual(before.mics);
  });
  test("made sounds fit the drum", async () => {
    const id = await smallSong("made", 32);
    const layer = await add(id, { drum: "kick", from: "made", files: [] });
    expect(layer.file).toBe("Kick layer.wav");
    expect(layer.layer!.sounds.map((s) => s.name)).toEqual([
      "Made-up kick 1",
      "Made-up kick 2",
      "Made-up kick 3",
    ]);
  });
  test.each([
    ["a drum without a mic of its own", { drum: "floor", from: "recording", files: [] }, "no mic of its own"],
    ["a file that is not there", { drum: "snare", from: "files", files: ["m99"] }, "no file"],
  ] as const)("%s is refused and nothing is changed", async (_, wish, words) => {
    const id = await smallSong("refused", 33);
    const before = await songOf(id);
    await expect(add(id, wish)).rejects.toThrow(words);
    expect(await songOf(id)).toEqual(before);
  });
  test("too many sounds, and a silent file, are refused by name", async () => {
    const id = await smallSong("many", 34);
    const many = new Float32Array(70 * 6000);
    for (let k = 0; k < 70; k++) many.set(noise(500, k + 1), 6000 * k);
    await bring(id, "Many.wav", writeWav({ sampleRate: 48000, channels: [many] }, "wav32f"));
    await bring(
      id,
      "Nothing.wav",
      writeWav({ sampleRate: 48000, channels: [new Float32Array(5000)] }, "wav32f"),
    );
    const { mics } = await songOf(id);
    const of = (file: string) =>
      ({ drum: "snare", from: "files", files: [mics.find((m) => m.file === file)!.id] }) as const;
    await expect(add(id, of("Many.wav"))).rejects.toThrow("hold 70 sounds; a layer has at most 64");
    await expect(add(id, of("Nothing.wav"))).rejects.toThrow("Nothing.wav: it is silent");
    expect((await songOf(id)).mics).toEqual(mics);
  });
});
