import { mkdtempSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, expect, test } from "@jest/globals";
import yazl from "yazl";
import { noFacts } from "../../core/facts/facts";
import { newProcessor } from "../../core/song/create";
import { applyAll, type Operation } from "../../core/song/operations";
import { withoutMics } from "../../core/song/routes";
import type { Song } from "../../core/song/song";
import { entriesOf, openZip, streamOf } from "../audio/zip";
import { pool } from "../db/pool";
import { findSong, listSongs, updateFacts } from "../db/queries/song";
import { AppError } from "../errors";
import { bring, originalOf, rowsOf, smallSong, songOf, wavOf, withDatabase } from "../testing/database";
import { packSong, unpackSong } from "./archive";
import { createSong } from "./createSong";
import { editSong, openSong } from "./editSong";

const folder = mkdtempSync(join(tmpdir(), "jubo-archive-"));
afterAll(() => rmSync(folder, { recursive: true }));
let made = 0;
const put = (bytes: Buffer): string => {
  const path = join(folder, `${made++}.zip`);
  writeFileSync(path, bytes);
  return path;
};
async function bytesOf(stream: AsyncIterable<unknown>): Promise<Buffer> {
  const parts: Buffer[] = [];
  for await (const part of stream) parts.push(part as Buffer);
  return Buffer.concat(parts);
}
const packed = async (id: string): Promise<Buffer> => bytesOf((await packSong(id)).stream);
/** The entries of an archive as they are, changed and packed again. */
async function changed(bytes: Buffer, change: (entries: Map<string, Buffer>) => void): Promise<string> {
  const zip = await openZip(put(bytes));
  const entries = new Map<string, Buffer>();
  for (const [name, entry] of await entriesOf(zip)) entries.set(name, await bytesOf(streamOf(zip, entry)));
  zip.close();
  change(entries);
  const again = new yazl.ZipFile();
  for (const [name, content] of entries) again.addBuffer(content, name);
  again.end();
  return put(await bytesOf(again.outputStream));
}
const withSong = (bytes: Buffer, change: (song: Record<string, unknown>) => void): Promise<string> =>
  changed(bytes, (entries) => {
    const song = JSON.parse(entries.get("song.json")!.toString()) as Record<string, unknown>;
    change(song);
    entries.set("song.json", Buffer.from(JSON.stringify(song)));
  });
/** A song without what belongs to one database alone. */
const portable = (song: Song) => ({ ...song, mics: song.mics.map((m) => ({ ...m, audio: null })) });

const moves = (song: Song): Operation[] => [
  { op: "setSong", values: { title: "Archive, whole" } },
  { op: "setMic", mic: "m1", values: { level: -3.5, muted: true } },
  {
    op: "setChain",
    owner: "m2",
    chain: [
      ...song.mics[1]!.chain.slice(0, -1),
      newProcessor("m2", "clipper", true, { ceiling: -6 }),
      song.mics[1]!.chain.at(-1)!,
    ].map((p, i) => ({ ...p, id: `m2.${p.type}${i}` })),
  },
  { op: "setSong", values: { sections: [{ id: "a", name: "Verse", from: 0, to: 0.02 }] } },
];

withDatabase("a song as an archive", () => {
  test("comes back as it went, with its audio to the bit and its facts, as a song of its own", async () => {
    const id = await smallSong("Archive", 300);
    const { song, version } = await openSong(id);
    await editSong(id, version, "moves", { op: "several", operations: moves(song) });
    const facts = {
      ...noFacts,
      loudness: { m1: -21.5 },
      tone: { m1: { fundamental: 61, ring: 320, ringDb: 4 } },
    };
    await updateFacts(pool(), id, facts);
    const back = await unpackSong(put(await packed(id)));
    expect(back).not.toBe(id);
    expect(portable(await songOf(back))).toEqual(portable(await songOf(id)));
    expect((await findSong(pool(), back))!.facts).toEqual(facts);
    for (const [i, mic] of (await songOf(back)).mics.entries())
      expect((await originalOf(mic.audio!)).sha256).toBe(
        (await originalOf((await songOf(id)).mics[i]!.audio!)).sha256,
      );
    expect((await openSong(back)).undo).toBeNull();
  });

  test("the same song gives the same bytes, and its copy does, too", async () => {
    const id = await smallSong("Same bytes", 310);
    const first = await packed(id);
    expect((await packed(id)).equals(first)).toBe(true);
    expect((await packed(await unpackSong(put(first)))).equals(first)).toBe(true);
  });

  test("taking out a mic to which another listens frees that one, and the archive comes in again", async () => {
    const id = await smallSong("Key", 320);
    const { song, version } = await openSong(id);
    const gate = song.mics[1]!.chain.find((p) => p.type === "gate")!;
    const key: Operation = { op: "setProcessor", owner: "m2", processor: gate.id, on: true, key: "m1" };
    const keyed = await editSong(id, version, "key", key);
    // By itself the mic stays, with words; the interface frees what listens to it in the same step.
    const alone: Operation = { op: "removeMics", mics: ["m1"] };
    await expect(editSong(id, keyed.version, "gone", alone)).rejects.toThrow(/listens to "m1"/);
    await editSong(id, keyed.version, "gone", { op: "several", operations: withoutMics(keyed.song, ["m1"]) });
    const back = await songOf(await unpackSong(put(await packed(id))));
    expect(portable(back)).toEqual(portable(await songOf(id)));
    expect(JSON.stringify(back)).not.toContain('"m1"');
  });

  test("a song keeps its rate though the file that set it is gone", async () => {
    const id = await createSong("Rate");
    await bring(id, "Kick.wav", wavOf(4410, 325, 44100));
    await bring(id, "Snare.wav", wavOf(4800, 326, 48000));
    const { song, version } = await openSong(id);
    await editSong(id, version, "gone", { op: "several", operations: withoutMics(song, ["m1"]) });
    const back = await songOf(await unpackSong(put(await packed(id))));
    expect([back.sampleRate, back.mics[0]!.frames]).toEqual([44100, 4410]);
    expect(portable(back)).toEqual(portable(await songOf(id)));
  });

  const lies: [string, (song: Record<string, unknown>) => void, RegExp][] = [
    ["frames that are a word", (s) => (s["frames"] = "x"), /frames/],
    ["frames below nothing", (s) => (s["frames"] = -1), /frames/],
    ["a rate of nothing", (s) => (s["sampleRate"] = 0), /sampleRate/],
    ["hits that are no list", (s) => (s["hits"] = { 0: 1 }), /hits/],
    ["a tempo of endless beats", (s) => (s["tempo"] = { bpm: 1e300 }), /tempo/],
    ["a level that is no number", (s) => ((s["mics"] as { level: unknown }[])[0]!.level = "loud"), /level/],
    ["two mics of one id", (s) => ((s["mics"] as { id: string }[])[1]!.id = "m1"), /m1/],
    [
      "a mic that goes nowhere",
      (s) => ((s["mics"] as { output: string }[])[0]!.output = "elsewhere"),
      /elsewhere/,
    ],
    [
      "buses in a ring",
      (s) => (s["buses"] as { output: string | null }[]).forEach((b) => (b.output = "kit")),
      /kit|loop|ring|end/,
    ],
    [
      "a processor nobody knows",
      (s) => ((s["mics"] as { chain: { type: string }[] }[])[0]!.chain[3]!.type = "magic"),
      /magic/,
    ],
    ["a format of the future", (s) => (s["formatVersion"] = 999), /999|newer/],
    ["another program's song", (s) => (s["format"] = "other-song"), /song|format/],
    ["no mics at all where there should be a list", (s) => delete s["mics"], /mics/],
  ];
  test.each(lies)(
    "%s: refused with the place, nothing left, and the list of songs still answers",
    async (_, lie, words) => {
      const bytes = await packed(await smallSong("Lies", 330));
      const before = await rowsOf("song", "title = 'Lies'", []);
      const error = await unpackSong(await withSong(bytes, lie)).catch((e: unknown) => e);
      expect(error).toBeInstanceOf(AppError);
      expect((error as AppError).code).toBe("invalid");
      expect((error as Error).message).toMatch(words);
      expect(await rowsOf("song", "title = 'Lies'", [])).toBe(before);
      expect((await listSongs(pool())).some((s) => s.title === "Lies")).toBe(true);
    },
  );

  const damages: [string, (entries: Map<string, Buffer>) => void, RegExp][] = [
    ["song.json missing", (e) => e.delete("song.json"), /lacks song.json/],
    ["facts.json missing", (e) => e.delete("facts.json"), /lacks facts.json/],
    [
      "song.json broken off",
      (e) => e.set("song.json", e.get("song.json")!.subarray(0, 200)),
      /song.json in the archive is not readable/,
    ],
    [
      "the audio of a mic missing",
      (e) => e.delete("audio/Snare top.wav"),
      /lacks the audio of Snare top.wav/,
    ],
    ["audio that is none", (e) => e.set("audio/Snare top.wav", Buffer.from("hello")), /Snare top.wav/],
    ["facts of another shape", (e) => e.set("facts.json", Buffer.from('{"tone":{"m1":7}}')), /facts.tone/],
    ["facts nobody knows", (e) => e.set("facts.json", Buffer.from('{"secrets":{}}')), /secrets/],
  ];
  test.each(damages)("%s: refused, and no half of a song stays", async (_, harm, words) => {
    const bytes = await packed(await smallSong("Harmed", 340));
    const before = await rowsOf("song", "title = 'Harmed'", []);
    const error = await unpackSong(await changed(bytes, harm)).catch((e: unknown) => e);
    expect((error as Error).message).toMatch(words);
    expect(error).toBeInstanceOf(AppError);
    expect(await rowsOf("song", "title = 'Harmed'", [])).toBe(before);
  });

  test.each([
    ["shorter", wavOf(900, 77)],
    ["longer", wavOf(5000, 78)],
  ])("audio %s than the song says is another's: refused", async (_, other) => {
    const bytes = await packed(await smallSong("Swapped", 350));
    const path = await changed(bytes, (e) => e.set("audio/Kick in.wav", other));
    await expect(unpackSong(path)).rejects.toThrow(/Kick in.wav.*2000 frames/);
  });
  test("what is no archive, and a song that is gone, are told", async () => {
    await expect(unpackSong(put(Buffer.from("PK but nothing else")))).rejects.toThrow(
      /not a readable archive/,
    );
    await expect(packSong("00000000-0000-4000-8000-000000000000")).rejects.toThrow("does not exist any more");
  });
  test("operations of an archive's song apply as before", async () => {
    const id = await smallSong("Goes on", 360);
    const back = await unpackSong(put(await packed(id)));
    const { version, song } = await openSong(back);
    const next: Operation = { op: "setMic", mic: "m2", values: { level: -9 } };
    expect((await editSong(back, version, "on", next)).song).toEqual(applyAll(song, [next]));
  });
});
