import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "@jest/globals";
import yazl from "yazl";
import { AppError } from "../errors";
import { bring, originalOf, songOf, wavOf, withDatabase } from "../testing/database";
import { createSong } from "./createSong";
import { importFile } from "./importFile";

const folder = mkdtempSync(join(tmpdir(), "jubo-import-"));
afterAll(() => rmSync(folder, { recursive: true }));

/** A ZIP archive on disk. */
async function zipped(name: string, entries: readonly [string, Buffer][], compress = true): Promise<string> {
  const zip = new yazl.ZipFile();
  for (const [entry, bytes] of entries) zip.addBuffer(bytes, entry, { compress });
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream) parts.push(part as Buffer);
  const path = join(folder, name);
  writeFileSync(path, Buffer.concat(parts));
  return path;
}
/** Turns bits of an archive over where an entry's data lies. */
function damage(path: string, bytes: Buffer, entry: string, by: number): Buffer {
  const changed = Buffer.from(bytes);
  const head = changed.indexOf(entry, 0, "latin1");
  for (let i = 0; i < 40; i++) changed[head + entry.length + 60 + 7 * i]! ^= by;
  writeFileSync(path, changed);
  return changed;
}
const deliver = async (id: string, path: string) => importFile(id, "Takes.zip", 1000, path);
const read = async (path: string) => (await import("node:fs/promises")).readFile(path);

withDatabase("an archive of files that comes in", () => {
  test("every audio file in it is taken; what the system that packed it left there is not", async () => {
    const id = await createSong("archive of takes");
    const path = await zipped("whole.zip", [
      ["Take 3/Kick.wav", wavOf(2000, 50)],
      ["Take 3/Snare top.wav", wavOf(2000, 51)],
      ["__MACOSX/Take 3/._Kick.wav", Buffer.from("resource")],
      [".DS_Store", Buffer.from("nothing")],
      ["Take 3/notes.txt", Buffer.from("mics")],
    ]);
    const { taken, refused } = await deliver(id, path);
    expect(taken.map((t) => t.file)).toEqual(["Kick.wav", "Snare top.wav"]);
    expect(refused).toEqual([]);
    expect((await songOf(id)).mics.map((m) => m.piece)).toEqual(["kick", "snare"]);
  });

  test.each([
    ["packed", true],
    ["stored", false],
  ])("a damaged entry (%s) is named and the others come in", async (kind, compress) => {
    const id = await createSong(`damaged ${kind}`);
    const name = `damaged-${kind}.zip`;
    const path = await zipped(
      name,
      [
        ["Hat.wav", wavOf(3000, 60)],
        ["Kick.wav", wavOf(3000, 61)],
        ["Snare.wav", wavOf(3000, 62)],
      ],
      compress,
    );
    damage(path, await read(path), "Kick.wav", 0xff);
    const { taken, refused } = await deliver(id, path);
    expect(taken.map((t) => t.file)).toEqual(["Hat.wav", "Snare.wav"]);
    expect(refused).toHaveLength(1);
    expect(refused[0]!.file).toBe("Kick.wav");
    expect(refused[0]!.message).toMatch(/Kick\.wav in the archive is damaged/);
    expect((await songOf(id)).mics).toHaveLength(2);
  });

  test("two entries of one name both come in", async () => {
    const id = await createSong("one name");
    const path = await zipped("one-name.zip", [
      ["Tom.wav", wavOf(2000, 70)],
      ["Tom.wav", wavOf(2000, 71)],
    ]);
    const { taken, refused } = await deliver(id, path);
    expect([taken.length, refused]).toEqual([2, []]);
    expect(new Set((await songOf(id)).mics.map((m) => m.file)).size).toBe(2);
  });

  test("what does not fit is refused one by one, with the reason beside the name", async () => {
    const id = await createSong("mixed bag");
    const kick = wavOf(2000, 80);
    await bring(id, "Kick.wav", kick);
    const path = await zipped("mixed.zip", [
      ["Kick again.wav", kick],
      ["Letter.wav", Buffer.from("dear engineer ".repeat(30))],
      ["Snare.wav", wavOf(2000, 81)],
      ["Map.mid", Buffer.from("MThd and then nothing")],
    ]);
    const { taken, refused } = await deliver(id, path);
    expect(taken.map((t) => t.file)).toEqual(["Snare.wav"]);
    expect(Object.fromEntries(refused.map((r) => [r.file, r.message]))).toEqual({
      "Kick again.wav": expect.stringContaining("the same audio as Kick.wav"),
      "Letter.wav": expect.stringContaining("It was left out"),
      "Map.mid": expect.stringContaining("It was left out"),
    });
  });

  test.each([
    [
      "no audio at all",
      [["read me.txt", Buffer.from("nothing")]] as [string, Buffer][],
      /holds no WAV, AIFF, FLAC or MIDI file/,
    ],
    ["nothing", [] as [string, Buffer][], /holds no WAV/],
  ])("an archive with %s is refused", async (name, entries, words) => {
    const id = await createSong(`archive with ${name}`);
    const error = await deliver(id, await zipped(`${name.replaceAll(" ", "-")}.zip`, entries)).catch(
      (e: unknown) => e,
    );
    expect(error).toBeInstanceOf(AppError);
    expect((error as Error).message).toMatch(words);
    expect((await songOf(id)).mics).toEqual([]);
  });

  test("an archive that breaks off is refused with words", async () => {
    const id = await createSong("broken off");
    const path = await zipped("half.zip", [["Kick.wav", wavOf(4000, 90)]]);
    const bytes = await read(path);
    writeFileSync(path, bytes.subarray(0, bytes.length / 2));
    await expect(deliver(id, path)).rejects.toThrow(/not a readable archive|damaged/);
    expect((await songOf(id)).mics).toEqual([]);
  });

  test("an archive of more than a thousand entries is not unpacked", async () => {
    const id = await createSong("a thousand");
    const path = await zipped(
      "many.zip",
      Array.from({ length: 1001 }, (_, i) => [`${i}.txt`, Buffer.from("x")]),
    );
    await expect(deliver(id, path)).rejects.toThrow("more than 1000 entries");
  });
});

withDatabase("a file that comes in from disk", () => {
  const onDisk = (name: string, bytes: Buffer): string => {
    const path = join(folder, name);
    writeFileSync(path, bytes);
    return path;
  };
  test("is stored to the bit, three at a time; what is no audio is refused in words, and the next comes in", async () => {
    const id = await createSong("files from disk");
    const files = [1, 2, 3, 4].map((seed) => wavOf(200_000 + seed, seed));
    const broken = files[1]!.subarray(0, 300_001);
    const results = await Promise.allSettled([
      ...files.map((bytes, i) =>
        importFile(id, `Tom ${i + 1}.wav`, bytes.length, onDisk(`${i}.part`, bytes)),
      ),
      importFile(id, "Broken.wav", broken.length, onDisk("broken.part", broken)),
    ]);
    expect(results.map((r) => r.status)).toEqual([...files.map(() => "fulfilled"), "rejected"]);
    expect((results[4] as PromiseRejectedResult).reason.message).toMatch(
      /^Broken.wav ends too early: 200002 frames are promised, \d+ are there. It was left out/,
    );
    const { mics } = await songOf(id);
    for (const [i, bytes] of files.entries()) {
      const mic = mics.find((m) => m.file === `Tom ${i + 1}.wav`)!;
      expect((await originalOf(mic.audio!)).bytes.equals(bytes)).toBe(true);
    }
  });
});
