import { describe, expect, test } from "@jest/globals";
import { noise, sine } from "../testing/signals";
import { readAudio, readAudioHeader } from "./audioFile";
import { AudioFileError } from "./sampleFormat";
import { wavHeader, writeWav, type WriteFormat } from "./wavWrite";

const audio = { sampleRate: 44100, channels: [noise(1000, 1), noise(1000, 2)] };
const bytes = writeWav(audio, "wav24");
const changed = (change: (b: Uint8Array, v: DataView) => void): Uint8Array => {
  const copy = bytes.slice();
  change(copy, new DataView(copy.buffer));
  return copy;
};

describe("WAV", () => {
  test.each([
    ["wav32f", 0],
    ["wav24", 0.5 / 8388608],
    ["wav16", 2 / 32768], // half a step and the dither's step and a half
  ] as [WriteFormat, number][])("%s comes back within %d", (format, tolerance) => {
    const back = readAudio(writeWav(audio, format));
    expect(back.sampleRate).toBe(44100);
    back.channels.forEach((x, ch) =>
      x.forEach((v, i) => expect(Math.abs(v - audio.channels[ch]![i]!)).toBeLessThanOrEqual(tolerance)),
    );
  });

  // Lipshitz, Wannamaker, Vanderkooy 1992: triangular dither of two steps' width makes the error's power
  // (1/12 + 1/6) step^2, whatever the signal: 4.77 dB over plain rounding.
  test("16-bit dither has the power of the theory, also for a signal below one step", () => {
    for (const level of [0.3 / 32768, 0.5]) {
      const x = sine(440, level, 2);
      const y = readAudio(writeWav({ sampleRate: 48000, channels: [x] }, "wav16")).channels[0]!;
      const power = y.reduce((s, v, i) => s + ((v - x[i]!) * 32768) ** 2, 0) / y.length;
      expect(10 * Math.log10(power / (1 / 4))).toBeCloseTo(0, 1);
    }
  });

  test.each<[string, Uint8Array, string]>([
    ["an empty file", new Uint8Array(0), "is empty"],
    [
      "text",
      new TextEncoder().encode("this is a text renamed to .wav, and long enough"),
      "is no WAV, AIFF or FLAC file",
    ],
    ["a truncated file", bytes.slice(0, 2000), "ends too early: 1000 frames are promised"],
    ["a file cut in its header", bytes.slice(0, 40), "cut off or damaged"],
    [
      "no frames",
      writeWav({ sampleRate: 48000, channels: [new Float32Array(0)] }, "wav16"),
      "holds no audio (0 frames)",
    ],
    ["seven channels", changed((_, v) => v.setUint16(58, 7, true)), "has 7 channels"],
    ["a sample rate of 1 Hz", changed((_, v) => v.setUint32(60, 1, true)), "sample rate of 1 Hz"],
    ["a compressed kind", changed((_, v) => v.setUint16(56, 85, true)), "holds audio of kind 85"],
    ["frames that do not fit", changed((_, v) => v.setUint16(68, 5, true)), "says 5 bytes a frame"],
    ["2^32 bytes of audio promised", changed((_, v) => v.setUint32(76, 0xfffffff0, true)), "ends too early"],
  ])("%s is refused with the reason", (_, file, reason) => {
    expect(() => readAudio(file)).toThrow(AudioFileError);
    expect(() => readAudio(file)).toThrow(reason);
  });

  test("a sample that is no number is refused with its place", () => {
    const x = noise(100);
    x[42] = NaN;
    const file = writeWav({ sampleRate: 48000, channels: [x] }, "wav32f");
    expect(() => readAudio(file)).toThrow("not a number at frame 42");
  });
  test("a wrong RIFF size is lived with and said", () => {
    const { info } = readAudio(changed((_, v) => v.setUint32(4, 12345, true)));
    expect(info.remarks[0]).toContain("the header says 12353 bytes");
  });

  // EBU Tech 3306: sizes beyond 32 bits stand in ds64, the 32-bit fields are -1.
  test("beyond 4 GiB the header is RF64 and is read back", () => {
    const frames = 600_000_000;
    const head = wavHeader("wav32f", 2, 96000, frames);
    expect(new TextDecoder().decode(head.slice(0, 4))).toBe("RF64");
    const info = readAudioHeader(head, head.length + frames * 8);
    expect(info).toMatchObject({ frames, channels: 2, sampleRate: 96000, dataStart: head.length });
  });
});
