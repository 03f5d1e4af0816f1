import { createHash } from "node:crypto";
import { expect, test } from "@jest/globals";
import { encodeFrames } from "../../core/file/wavWrite";
import { randomSource } from "../../core/signal/random";
import { noise } from "../../core/testing/signals";
import { inTransaction, pool } from "../db/pool";
import { findFile } from "../db/queries/file";
import { createSong } from "../useCases/createSong";
import { editSong, openSong } from "../useCases/editSong";
import { bring, inPieces, rowsOf, smallSong, songOf, wavOf, withDatabase } from "../testing/database";
import { audioOfMics, readStretch, readWhole, wholeMics, windowReader } from "./songAudio";
import { Spool } from "./spool";
import { chunkBytes, readRange, storeFile, streamFile } from "./store";

/** Bytes that differ everywhere, so that no two chunks are alike. */
const someBytes = (length: number, seed: number): Buffer =>
  Buffer.from(
    encodeFrames([noise(Math.ceil(length / 4), seed)], "wav32f", 0, Math.ceil(length / 4), randomSource(1)),
  ).subarray(0, length);
const put = (name: string, bytes: Uint8Array, piece: number) =>
  inTransaction((db) => storeFile(db, name, "audio/wav", inPieces(bytes, piece)));

withDatabase("files in chunks", () => {
  test.each([
    ["less than a chunk", 1000, 64],
    ["a chunk to the byte", chunkBytes, 5000],
    ["a chunk and a byte", chunkBytes + 1, 100_000],
    ["many, in pieces larger than a chunk", 5 * chunkBytes - 17, 3 * chunkBytes],
    ["many, in small pieces", 2 * chunkBytes + 33, 999],
  ])("%s: the bytes come back, whole and by any range", async (name, length, piece) => {
    const bytes = someBytes(length, length);
    const stored = await put(`store ${name}`, bytes, piece);
    expect(stored.byteLength).toBe(length);
    expect(stored.sha256.equals(createHash("sha256").update(bytes).digest())).toBe(true);
    const file = (await findFile(pool(), stored.id))!;
    const parts: Buffer[] = [];
    for await (const part of streamFile(pool(), file)) parts.push(part);
    expect(Buffer.concat(parts).equals(bytes)).toBe(true);
    for (const [from, to] of [
      [0, 1],
      [length - 1, length],
      [Math.floor(length / 3), Math.floor((2 * length) / 3)],
      [5, 5],
    ])
      expect((await readRange(pool(), stored.id, from!, to!)).equals(bytes.subarray(from, to))).toBe(true);
  });

  test("the same bytes lie there once, however often they are brought", async () => {
    const bytes = someBytes(3 * chunkBytes, 77);
    const chunks = async () =>
      Number(
        (
          await pool().query<{ n: string }>("select count(*) as n from chunk where sha256 = any($1)", [
            [0, 1, 2].map((i) =>
              createHash("sha256")
                .update(bytes.subarray(i * chunkBytes, (i + 1) * chunkBytes))
                .digest(),
            ),
          ])
        ).rows[0]!.n,
      );
    const [first, second] = [await put("once", bytes, 7000), await put("again", bytes, 70_000)];
    expect(first.id).not.toBe(second.id);
    expect(await chunks()).toBe(3);
  });

  test("what is behind the end is told, not made up", async () => {
    const { id } = await put("short", someBytes(100, 5), 100);
    await expect(readRange(pool(), id, 50, 101)).rejects.toThrow(/bytes 50 to 101 are not all there/);
  });

  test("a source that breaks, or a watcher that says no, leaves no file", async () => {
    async function* breaking() {
      yield someBytes(chunkBytes + 10, 8);
      throw new Error("the cable is out");
    }
    const broken = inTransaction((db) => storeFile(db, "broken source", "audio/wav", breaking()));
    await expect(broken).rejects.toThrow("the cable is out");
    const refused = inTransaction((db) =>
      storeFile(db, "refused source", "audio/wav", inPieces(someBytes(3 * chunkBytes, 9)), (_, at) => {
        if (at > 0) throw new Error("no more of this");
      }),
    );
    await expect(refused).rejects.toThrow("no more of this");
    expect(await rowsOf("file", "name = any($1)", [["broken source", "refused source"]])).toBe(0);
  });
  test("nothing at all is no file", async () => {
    expect(await put("empty", new Uint8Array(0), 10)).toMatchObject({ id: "", byteLength: 0 });
  });
});

withDatabase("audio of a song", () => {
  /** A song of two mics, the second beginning 700 frames late. */
  async function lateSong(): Promise<{ id: string; x: Float32Array[] }> {
    const id = await createSong("late");
    await bring(id, "Kick.wav", wavOf(5000, 90, 48000, "wav32f"));
    await bring(id, "Snare.wav", wavOf(4000, 91, 48000, "wav32f"));
    const { version } = await openSong(id);
    await editSong(id, version, "late", { op: "setMic", mic: "m2", values: { start: 700 } });
    const snare = new Float32Array(4700);
    snare.set(noise(4000, 91), 700);
    return { id, x: [noise(5000, 90), snare] };
  }
  test("whole mics, stretches and windows hold the samples that were recorded, each in its place", async () => {
    const { id, x } = await lateSong();
    const placed = await audioOfMics(pool(), id, await songOf(id));
    for (const [m, one] of placed.entries())
      expect([...(await readWhole(pool(), one))[0]!]).toEqual([...x[m]!]);
    for (const from of [0, 500, 650, 4500, 6000]) {
      const stretch = await readStretch(pool(), placed, from, 300);
      stretch.forEach((channels, m) => channels[0]!.forEach((v, i) => expect(v).toBe(x[m]![from + i] ?? 0)));
    }
    const { reader, prefetch } = windowReader(pool(), placed, 100);
    for (let from = 0; from < 5000; from += 1000) {
      await prefetch(from, 1000);
      placed.forEach(({ start }, m) => {
        const out = new Float32Array(1010).fill(7);
        // Moved by as much as was said: a tightened song reads beside where it plays.
        for (const shift of [-100, 0, 100]) {
          reader(m, 0)(from + shift - start, 1000, out, 10);
          expect(out[9]).toBe(7);
          for (let i = 0; i < 1000; i++) expect(out[10 + i]).toBe(x[m]![from + shift + i] ?? 0);
        }
      });
    }
  });
  test("mics that memory does not hold are spooled to the same samples, piece by piece", async () => {
    const { id, x } = await lateSong();
    await bring(id, "Room.wav", wavOf((1 << 20) + 3000, 92, 48000, "wav32f"));
    const { version } = await openSong(id); // files that come in are placed by their times
    await editSong(id, version, "late", { op: "setMic", mic: "m2", values: { start: 700 } });
    const placed = await audioOfMics(pool(), id, await songOf(id));
    const spool = await Spool.open();
    const read: Float32Array[] = [];
    for await (const { channels, start } of wholeMics(pool(), placed, spool)) {
      expect(start).toBe(placed[read.length]!.start);
      read.push(channels[0]!.subarray(0));
    }
    await spool.close();
    const wanted = [...x, noise((1 << 20) + 3000, 92)];
    expect(read.map((y) => y.length)).toEqual(wanted.map((y) => y.length));
    read.forEach((y, m) => expect(y.findIndex((v, i) => v !== wanted[m]![i])).toBe(-1));
  });
  test("audio that is not in the store any more is told by its name", async () => {
    const id = await smallSong("lost audio", 95);
    await pool().query("delete from song_audio where song_id = $1", [id]);
    await expect(audioOfMics(pool(), id, await songOf(id))).rejects.toThrow(
      "The audio of Kick in.wav is missing",
    );
  });
});
