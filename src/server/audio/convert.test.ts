import { describe, expect, test } from "@jest/globals";
import { execFileSync, spawnSync } from "node:child_process";
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { AudioFileError } from "../../core/file/sampleFormat";
import { writeWav } from "../../core/file/wavWrite";
import { levelAt, noise, sine } from "../../core/testing/signals";
import { bundledFile } from "../thread";
import { convertHere, decodeFlacFile, resample, resampledPieces } from "./convert";
import { flacReady } from "./flac";
import { readFlac } from "./flacDecoder";

/** How often the event loop came round while work was done. */
async function rounds(work: Promise<unknown>): Promise<number> {
  let [count, going] = [0, true];
  const round = () => {
    count++;
    if (going) setImmediate(round);
  };
  setImmediate(round);
  await work;
  going = false;
  return count;
}

describe("another sample rate", () => {
  test.each([
    [44100, 48000],
    [96000, 44100],
    [48000, 8000],
  ])("%d to %d Hz: tones keep pitch and level, both channels each their own", async (from, to) => {
    const [l, r] = await resample([sine(1000, 0.5, 0.5, from), sine(2500, 0.1, 0.5, from)], from, to);
    expect([l!.length, r!.length]).toEqual([to / 2, to / 2]);
    const middle = (x: Float32Array) => x.subarray(Math.round(0.1 * to), Math.round(0.4 * to));
    expect(levelAt(middle(l!), 1000, to)).toBeCloseTo(levelAt(sine(1000, 0.5, 0.3, to), 1000, to), 1);
    expect(levelAt(middle(r!), 2500, to)).toBeCloseTo(levelAt(sine(2500, 0.1, 0.3, to), 2500, to), 1);
  });
  test("what lies above half of the new rate is gone, not folded", async () => {
    const [y] = await resample([sine(15000, 0.5, 0.5, 48000)], 48000, 16000);
    // 15 kHz would fold to 1 kHz; libsamplerate's best converter is told to reject by 121 dB or more.
    expect(levelAt(y!.subarray(2000, 6000), 1000, 16000)).toBeLessThan(-100);
  });
  test("on a thread it is the same to the bit, and the server goes on meanwhile", async () => {
    expect(bundledFile("convertWorker.mjs")).not.toBeNull();
    const x = noise(12 * 48000, 3);
    let y: Float32Array | undefined;
    const meanwhile = await rounds(resample([x], 48000, 44100).then(([z]) => (y = z)));
    let here: Float32Array | undefined;
    const stood = await rounds(
      convertHere({ kind: "rate", x, from: 48000, to: 44100 }).then((c) => (here = c.channels[0])),
    );
    expect(Buffer.compare(Buffer.from(y!.buffer), Buffer.from(here!.buffer))).toBe(0);
    expect(meanwhile).toBeGreaterThan(100 * stood);
  });
  test("a long signal sounds up to its last frame, and comes in pieces as it does whole", async () => {
    // The converter holds back some frames, which must be asked for at the end.
    const x = new Float32Array(300_000);
    x.set(sine(1000, 0.5, 0.1, 48000), x.length - 4800);
    const [whole] = await resample([x], 48000, 44100);
    expect(whole!.length).toBe(Math.round((x.length * 44100) / 48000));
    expect(levelAt(whole!.subarray(whole!.length - 130), 1000, 44100)).toBeGreaterThan(-8);
    const parts: Float32Array[] = [];
    async function* pieces() {
      for (let at = 0; at < x.length; at += 70_001) yield [x, x].map((y) => y.subarray(at, at + 70_001));
    }
    for await (const [left, right] of resampledPieces(pieces(), 2, 48000, 44100)) {
      expect(right).toEqual(left);
      parts.push(left!);
    }
    expect(Buffer.concat(parts.map((p) => Buffer.from(p.buffer, p.byteOffset, p.byteLength)))).toEqual(
      Buffer.from(whole!.buffer, whole!.byteOffset, whole!.byteLength),
    );
  });
  test("the same rate is no work", async () => {
    const x = noise(100, 1);
    expect((await resample([x], 48000, 48000))[0]).toBe(x);
  });
});

describe("FLAC", () => {
  const folder = mkdtempSync(join(tmpdir(), "jubo-flac-"));
  /** A file made by the reference encoder. */
  function encoded(name: string, seconds: number, seed: number): Buffer {
    const wav = join(folder, `${name}.wav`);
    const x = seed === 0 ? new Float32Array(seconds * 8000) : noise(seconds * 8000, seed, 0.5);
    writeFileSync(wav, writeWav({ sampleRate: 8000, channels: [x, x] }, "wav24"));
    execFileSync("flac", ["-s", "-f", "-o", join(folder, `${name}.flac`), wav]);
    return readFileSync(join(folder, `${name}.flac`));
  }
  test("is decoded on a thread to the samples that the reference encoder was given", async () => {
    const { audio, sampleRate, bits, channels } = await decodeFlacFile(encoded("plain", 2, 5));
    expect([sampleRate, bits, channels, audio[1]!.length]).toEqual([8000, 24, 2, 16000]);
    const x = noise(16000, 5, 0.5);
    audio[0]!.forEach((v, i) => expect(Math.abs(v - x[i]!)).toBeLessThanOrEqual(2 ** -23));
  });
  test("what cannot be decoded is told in words that follow the file's name", async () => {
    const bytes = encoded("harmed", 2, 6);
    const broken = await decodeFlacFile(bytes.subarray(0, bytes.length / 2)).catch((e: unknown) => e);
    expect(broken).toBeInstanceOf(AudioFileError);
    expect((broken as Error).message).toMatch(/^(is|ends) /);
    await expect(decodeFlacFile(Buffer.from("fLaC and nothing"))).rejects.toBeInstanceOf(AudioFileError);
  });
  test("a head that contradicts its stream is taken or refused as by the reference decoder, for every bit of it", async () => {
    await flacReady();
    const bytes = encoded("contradicts", 1, 7);
    const path = join(folder, "contradicts.flac");
    const differ: string[] = [];
    // STREAMINFO, RFC 9639, section 8.2: sizes of blocks and frames, rate, channels, bits, frames; then the checksum.
    for (let bit = 8 * 8; bit < 27 * 8; bit++) {
      const other = Buffer.from(bytes);
      other[bit >> 3]! ^= 1 << (bit & 7);
      writeFileSync(path, other);
      const taken = spawnSync("flac", ["-t", "-s", path]).status === 0;
      let ours = "";
      try {
        expect(readFlac(other).audio[0]).toHaveLength(8000);
      } catch (error) {
        ours = (error as Error).message;
      }
      if ((ours === "") !== taken) differ.push(`byte ${bit >> 3}, bit ${bit & 7}: ${ours}`);
    }
    expect(differ).toEqual([]);
  });
  test("days of silence in some bytes are refused, whether the head tells of them or not", async () => {
    const bytes = encoded("silence", 60, 0);
    expect(bytes.length).toBeLessThan(20_000);
    // STREAMINFO's count of frames, RFC 9639, section 8.2: 36 bits from the low half of byte 21 on; 0 says that it is not known.
    const tellingOf = (frames: number): Buffer => {
      const other = Buffer.from(bytes);
      other[21]! &= 0xf0;
      other.writeUInt32BE(frames, 22);
      return other;
    };
    const days = tellingOf(3 * 86400 * 8000);
    await expect(decodeFlacFile(days)).rejects.toThrow("is longer than 2 hours");
    expect(() => readFlac(tellingOf(0), 59)).toThrow("is longer than 59 s");
    expect(readFlac(tellingOf(0), 61).audio[0]).toHaveLength(60 * 8000);
    rmSync(folder, { recursive: true });
  });
});
