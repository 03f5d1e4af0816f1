import { createHash } from "node:crypto";
import { expect, test } from "@jest/globals";
import { integers, iff, iffChunk, aiffCommon, riff, riffChunk, wavFormat } from "../../core/testing/files";
import { noise } from "../../core/testing/signals";
import { pool } from "../db/pool";
import { findAudio } from "../db/queries/audio";
import { AppError } from "../errors";
import {
  bring,
  inPieces,
  originalOf,
  rowsOf,
  smallSong,
  songOf,
  wavOf,
  withDatabase,
} from "../testing/database";
import { createSong } from "./createSong";
import { cleanName, importAudio, largestFile, mostMics } from "./importAudio";
import { stepHistory, openSong } from "./editSong";

const refused = async (work: Promise<unknown>): Promise<AppError> => {
  const error = await work.then(
    () => null,
    (e: unknown) => e,
  );
  expect(error).toBeInstanceOf(AppError);
  return error as AppError;
};

withDatabase("audio that comes into a song", () => {
  test.each(["wav16", "wav24", "wav32f"] as const)(
    "%s lies in the store bit by bit as it came, whatever its pieces were",
    async (format) => {
      const bytes = wavOf(200_000, 3, 48000, format);
      const id = await createSong(`bits ${format}`);
      const { mic } = await importAudio(id, "Kick.wav", bytes.length, inPieces(bytes, 70_001));
      const stored = await originalOf(mic.audio!);
      expect(stored.sha256).toBe(createHash("sha256").update(bytes).digest("hex"));
      expect([mic.frames, mic.channels, mic.piece]).toEqual([200_000, 1, "kick"]);
      const song = await songOf(id);
      expect([song.sampleRate, song.frames]).toEqual([48000, 200_000]);
    },
  );

  test("the first file sets the rate; one of another rate is kept as it came and played through a copy", async () => {
    const id = await createSong("rates");
    await bring(id, "Kick.wav", wavOf(4410, 1, 44100));
    expect((await songOf(id)).sampleRate).toBe(44100);
    const other = wavOf(4800, 2, 48000);
    const { mic, remarks } = await bring(id, "Snare.wav", other);
    expect(remarks).toContain("converted from 48000 to 44100 Hz");
    expect(mic.frames).toBe(4410);
    expect((await originalOf(mic.audio!)).bytes.equals(other)).toBe(true);
    expect((await findAudio(pool(), mic.audio!))!.convertedFrom).toBe(48000);
  });

  test("AIFF comes in as WAV does, with its own samples", async () => {
    const x = noise(1000, 4, 0.9);
    const bytes = iff(
      "AIFF",
      iffChunk("COMM", aiffCommon(1000, 16, 1, 48000)),
      iffChunk("SSND", [
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        0,
        ...integers(x, 16).flatMap((v) => [(v >> 8) & 255, v & 255]),
      ]),
    );
    const id = await createSong("aiff");
    const { mic } = await bring(id, "Hat.aif", bytes);
    expect([mic.frames, mic.piece]).toEqual([1000, "hat"]);
    expect((await findAudio(pool(), mic.audio!))!.sampleFormat).toBe("pcm16be");
  });

  test("a file that breaks off, is no audio or is empty leaves nothing behind", async () => {
    const id = await smallSong("whole", 11);
    const before = await openSong(id);
    const bytes = wavOf(50_000, 5);
    const cases: [string, Uint8Array, number, RegExp][] = [
      ["Tom broken.wav", bytes.subarray(0, 60_000), bytes.length, /broke off after 60000 of/],
      ["Tom text.wav", Buffer.from("this is a letter and no audio at all".repeat(20)), 720, /Tom text.wav/],
      ["Tom nothing.wav", new Uint8Array(0), 0, /Tom nothing.wav/],
      ["Tom head.wav", bytes.subarray(0, 44), 44, /Tom head.wav/],
      [
        "Tom eight.wav",
        riff(
          riffChunk("fmt ", wavFormat(1, 16, 8, 48000)),
          riffChunk("data", new Array<number>(1600).fill(1)),
        ),
        1644,
        /8 channels|channels/,
      ],
    ];
    for (const [name, part, told, words] of cases) {
      const error = await refused(bring(id, name, part, told));
      expect(error.code).toBe("invalid");
      expect(error.message).toMatch(words);
      expect(error.message).toContain("It was left out; everything else is safe.");
      expect(await rowsOf("file", "name = $1", [name])).toBe(0);
    }
    expect(await openSong(id)).toEqual(before);
  });

  test("the same audio twice is left out and says whose it is; the same name twice gets a number", async () => {
    const id = await createSong("twice");
    const bytes = wavOf(3000, 6);
    await bring(id, "Kick.wav", bytes);
    const twin = await refused(bring(id, "Kick copy.wav", bytes));
    expect(twin.code).toBe("conflict");
    expect(twin.message).toContain("holds the same audio as Kick.wav");
    const { mic } = await bring(id, "Kick.wav", wavOf(3000, 7));
    const { mics } = await songOf(id);
    expect(mic.file).not.toBe("Kick.wav");
    expect(new Set(mics.map((m) => m.file)).size).toBe(2);
  });

  test("files that come in side by side all arrive, each with an id of its own", async () => {
    const id = await createSong("side by side");
    const names = ["Kick", "Snare top", "Snare bottom", "Hat", "Tom 1", "Floor", "OH L", "OH R"];
    await Promise.all(names.map((n, i) => bring(id, `${n}.wav`, wavOf(1500 + i, 20 + i))));
    const { mics, frames } = await songOf(id);
    expect(mics.map((m) => m.file).sort()).toEqual(names.map((n) => `${n}.wav`).sort());
    expect(new Set(mics.map((m) => m.id)).size).toBe(8);
    expect(frames).toBe(1507);
    for (const m of mics) expect(m.output).not.toBe("");
  });

  test("an import is one step of undo, and the audio is there again when it is done again", async () => {
    const id = await createSong("undone");
    await bring(id, "Kick.wav", wavOf(1000, 30));
    await bring(id, "Snare.wav", wavOf(1000, 31));
    const { version, song } = await openSong(id);
    const back = await stepHistory(id, version, "undo");
    expect(back.song.mics.map((m) => m.file)).toEqual(["Kick.wav"]);
    const again = await stepHistory(id, back.version, "redo");
    expect(again.song).toEqual(song);
    expect((await originalOf(again.song.mics[1]!.audio!)).bytes.length).toBe(wavOf(1000, 31).length);
  });

  test("more mics than a song holds and files beyond the largest are refused before they are read", async () => {
    const id = await createSong("full");
    const full = Array.from({ length: mostMics }, (_, i) => bring(id, `Mic ${i}.wav`, wavOf(300, 200 + i)));
    await Promise.all(full);
    expect((await refused(bring(id, "One more.wav", wavOf(300, 999)))).message).toContain(
      `at most ${mostMics} mics`,
    );
    let read = 0;
    async function* endless() {
      for (;;) yield Buffer.alloc(1000, read++);
    }
    const error = await refused(importAudio(id, "Huge.wav", largestFile + 1, endless()));
    expect([error.code, read]).toEqual(["too_large", 0]);
  });

  // Issue 17: a transaction was open, and the song held, for as long as a file was converted.
  test("while a file is converted no transaction is open", async () => {
    const id = await smallSong("converted", 31);
    let done = false;
    const importing = bring(id, "Room.wav", wavOf(60 * 96000, 32, 96000)).finally(() => (done = true));
    const open: number[] = [];
    while (!done) {
      const { rows } = await pool().query<{ n: number }>(
        "select count(*)::int as n from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and xact_start is not null",
      );
      open.push(rows[0]!.n);
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    expect((await importing).remarks).toContain("converted from 96000 to 48000 Hz");
    expect(open.filter((n) => n === 0).length).toBeGreaterThan(0.3 * open.length);
  }, 60_000);

  test("a song that is gone takes nothing", async () => {
    const error = await refused(bring("00000000-0000-4000-8000-000000000000", "Kick.wav", wavOf(500, 40)));
    expect(error.code).toBe("not_found");
  });
});

test.each([
  ["/home/me/Kick.wav", "Kick.wav"],
  ["C:\\Takes\\Snare top.wav", "Snare top.wav"],
  ["..\\..\\x\u0000\u0007.wav", "x.wav"],
  ["   ", "unnamed.wav"],
  [`${"a".repeat(300)}.wav`, `${"a".repeat(196)}.wav`],
])("%j is called %j", (given, wanted) => {
  expect(cleanName(given)).toBe(wanted);
});
