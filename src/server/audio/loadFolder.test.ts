import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { execFileSync } from "node:child_process";
import { createWriteStream, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import fc from "fast-check";
import { join } from "node:path";
import yazl from "yazl";
import { AudioFileError } from "../../core/file/sampleFormat";
import { writeWav } from "../../core/file/wavWrite";
import { le, riff, riffChunk, wavFormat } from "../../core/testing/files";
import { largestDifference, noise } from "../../core/testing/signals";
import { decodeFile } from "./decodeFile";
import { loadFolder } from "./loadFolder";

const folder = mkdtempSync(join(tmpdir(), "jubo-load-"));
const frames = 4800;
const x = noise(frames, 5, 0.9);
const source = join(folder, "source.wav");
const run = (program: string, ...args: string[]) => execFileSync(program, args);

beforeAll(() => writeFileSync(source, writeWav({ sampleRate: 48000, channels: [x] }, "wav24")));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const twoChannels = (file: string): string[] => [source, source, "-M", file];
/** 24 bits of a signal within full scale. */
const step24 = 1 / 8388608;

// Written by sox, ffmpeg and flac, three programs that know the formats by themselves; read by ours.
describe("files of other programs", () => {
  test.each<[string, string[], number]>([
    ["u8.wav", ["sox", "-D", source, "-b", "8", "-e", "unsigned-integer", "u8.wav"], 1 / 128],
    ["s16.wav", ["sox", "-D", source, "-b", "16", "s16.wav"], 1 / 32768],
    ["s32.wav", ["sox", source, "-b", "32", "-e", "signed-integer", "s32.wav"], step24],
    ["f32.wav", ["sox", source, "-b", "32", "-e", "floating-point", "f32.wav"], step24],
    ["f64.wav", ["sox", source, "-b", "64", "-e", "floating-point", "f64.wav"], step24],
    ["stereo.wav", ["sox", ...twoChannels("stereo.wav")], step24],
    [
      "rf64.wav",
      ["ffmpeg", "-v", "error", "-i", source, "-rf64", "always", "-c:a", "pcm_s24le", "rf64.wav"],
      step24,
    ],
    ["s24.aiff", ["sox", source, "-b", "24", "s24.aiff"], step24],
    ["s16.aif", ["sox", "-D", source, "-b", "16", "s16.aif"], 1 / 32768],
    [
      "sowt.aifc",
      ["ffmpeg", "-v", "error", "-i", source, "-c:a", "pcm_s16le", "-f", "aiff", "sowt.aifc"],
      1 / 32768,
    ],
    [
      "f32.aifc",
      ["ffmpeg", "-v", "error", "-i", source, "-c:a", "pcm_f32be", "-f", "aiff", "f32.aifc"],
      step24,
    ],
    ["s24.flac", ["flac", "-s", "-8", source, "-o", "s24.flac"], step24],
    ["stereo.flac", ["sox", ...twoChannels("stereo.flac")], step24],
  ])("%s", async (file, [program, ...args], tolerance) => {
    execFileSync(program!, args, { cwd: folder });
    const { channels, sampleRate } = await decodeFile(new Uint8Array(readFileSync(join(folder, file))));
    expect(sampleRate).toBe(48000);
    expect(channels.length).toBe(file.startsWith("stereo") ? 2 : 1);
    for (const y of channels) {
      expect(y.length).toBe(frames);
      expect(largestDifference(y, x)).toBeLessThanOrEqual(1.01 * tolerance);
    }
  });

  test("a FLAC file with a changed byte, or cut off, is refused with the place", async () => {
    run("flac", "-s", "-f", source, "-o", join(folder, "whole.flac"));
    const bytes = new Uint8Array(readFileSync(join(folder, "whole.flac")));
    const broken = bytes.slice();
    broken[bytes.length - 2000]! ^= 0x55;
    await expect(decodeFile(broken)).rejects.toThrow(/is damaged/);
    await expect(decodeFile(bytes.slice(0, bytes.length / 2))).rejects.toThrow(
      /ends too early: 4800 frames|cut off/,
    );
  });
});

describe("hostile FLAC files", () => {
  test("no mutation crashes, hangs or claims what is not there", async () => {
    run("flac", "-s", "-f", source, "-o", join(folder, "fuzz.flac"));
    const bytes = new Uint8Array(readFileSync(join(folder, "fuzz.flac")));
    const change = fc.record({ at: fc.oneof(fc.nat(120), fc.nat(bytes.length - 1)), value: fc.nat(255) });
    const mutation = fc.record({
      changes: fc.array(change, { minLength: 1, maxLength: 5 }),
      length: fc.option(fc.nat(bytes.length), { freq: 3 }),
    });
    await fc.assert(
      fc.asyncProperty(mutation, async ({ changes, length }) => {
        const file = bytes.slice(0, length ?? bytes.length);
        for (const { at, value } of changes) if (at < file.length) file[at] = value;
        file.set([0x66, 0x4c, 0x61, 0x43].slice(0, file.length)); // still FLAC by its first bytes
        try {
          const { channels, sampleRate } = await decodeFile(file);
          return (
            channels.length <= 2 &&
            sampleRate >= 8000 &&
            channels.every((y) => y.length > 0 && y.every(Number.isFinite))
          );
        } catch (error) {
          return error instanceof AudioFileError;
        }
      }),
      { numRuns: 400 },
    );
  }, 60_000);
});

describe("a delivery", () => {
  const late = (seconds: number) =>
    riff(
      riffChunk("bext", [...new Array<number>(338).fill(0), ...le(48000 * (36000 + seconds), 8), 1, 0]),
      riffChunk("fmt ", wavFormat(1, 16, 1, 48000)),
      riffChunk("data", new Array<number>(2 * 480).fill(1)),
    );
  test("files that start late by their time reference fall in place; what was done is said", async () => {
    const delivery = mkdtempSync(join(folder, "late-"));
    writeFileSync(join(delivery, "Kick.wav"), late(0));
    writeFileSync(join(delivery, "Snare.wav"), late(1.5));
    writeFileSync(
      join(delivery, "Hat.wav"),
      writeWav({ sampleRate: 44100, channels: [noise(441, 1)] }, "wav16"),
    );
    writeFileSync(join(delivery, "Broken.wav"), late(0).slice(0, 700));
    const { mics, remarks, sampleRate } = await loadFolder(delivery);
    expect(sampleRate).toBe(48000);
    expect(mics.map((m) => [m.file, m.start])).toEqual([
      ["Hat.wav", 0],
      ["Kick.wav", 0],
      ["Snare.wav", 72000],
    ]);
    expect(remarks.join("\n")).toMatch(/Snare.wav begins 1.500 s into the song/);
    expect(remarks.join("\n")).toMatch(/Hat.wav was converted from 44100 to 48000 Hz/);
    expect(remarks.join("\n")).toMatch(/Broken.wav .*left out/);
  });
  test("a ZIP archive is a delivery like a folder", async () => {
    const zip = new yazl.ZipFile();
    zip.addBuffer(Buffer.from(late(0)), "take 3/Kick.wav");
    zip.addBuffer(Buffer.from("x"), "__MACOSX/take 3/._Kick.wav");
    zip.addBuffer(Buffer.from("notes"), "take 3/notes.txt");
    zip.end();
    const path = join(folder, "take.zip");
    await new Promise<void>((resolve) => zip.outputStream.pipe(createWriteStream(path)).on("close", resolve));
    const { mics } = await loadFolder(path);
    expect(mics.map((m) => m.file)).toEqual(["Kick.wav"]);
  });
});
