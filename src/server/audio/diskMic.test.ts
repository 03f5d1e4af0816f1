import { afterAll, describe, expect, test } from "@jest/globals";
import { mkdtempSync, rmSync, truncateSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { writeWav } from "../../core/file/wavWrite";
import { noise } from "../../core/testing/signals";
import { DiskMic } from "./diskMic";

const folder = mkdtempSync(join(tmpdir(), "jubo-disk-"));
afterAll(() => rmSync(folder, { recursive: true }));
const channels = [noise(5000, 1), noise(5000, 2)];
const write = (name: string, data: Uint8Array) => {
  const path = join(folder, name);
  writeFileSync(path, data);
  return path;
};

describe("a file that is read piece by piece", () => {
  test("gives what was written, from anywhere, silence outside", () => {
    const mic = DiskMic.open(write("pair.wav", writeWav({ sampleRate: 48000, channels }, "wav32f")))!;
    expect(mic.info.frames).toBe(5000);
    for (const ch of [0, 1]) {
      const out = new Float32Array(1010).fill(9);
      mic.source(ch)(-4, 1000, out, 10);
      expect([...out.slice(0, 14)]).toEqual([...new Array(10).fill(9), 0, 0, 0, 0]);
      expect(out.slice(14)).toEqual(channels[ch]!.slice(0, 996));
      mic.source(ch)(4900, 300, out, 0);
      expect(out.slice(0, 100)).toEqual(channels[ch]!.slice(4900));
      expect(out.slice(100, 300).every((v) => v === 0)).toBe(true);
    }
    expect(mic.whole()).toEqual(channels);
    mic.close();
  });
  test("a sample that is no number, a file cut short meanwhile and no audio at all are told with the file", () => {
    const bad = channels.map((x) => x.slice());
    bad[1]![4321] = NaN;
    const broken = DiskMic.open(write("nan.wav", writeWav({ sampleRate: 48000, channels: bad }, "wav32f")))!;
    expect(() => broken.whole()).toThrow(/nan\.wav has a sample that is not a number at frame 4321/);
    broken.close();
    const path = write("short.wav", writeWav({ sampleRate: 48000, channels }, "wav16"));
    const mic = DiskMic.open(path)!;
    truncateSync(path, 4000);
    expect(() => mic.whole()).toThrow(/short\.wav ends too early/);
    mic.close();
    expect(() => DiskMic.open(write("text.wav", Buffer.from("this is no audio file")))).toThrow(
      /text\.wav is no WAV/,
    );
  });
});
