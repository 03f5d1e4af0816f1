import { describe, expect, test } from "@jest/globals";
import { aiffCommon, be, iff, iffChunk, integers, pcm, someNoise } from "../testing/files";
import { largestDifference } from "../testing/signals";
import { readAudio } from "./audioFile";
import { AudioFileError } from "./sampleFormat";

const head = [0, 0, 0, 0, 0, 0, 0, 0]; // offset and block size of the sound chunk
const frames = someNoise.length;
const sound = (bytes: readonly number[]) => iffChunk("SSND", [...head, ...bytes]);
const floats = (big: boolean, width: 4 | 8): number[] => {
  const view = new DataView(new ArrayBuffer(frames * width));
  someNoise.forEach((v, i) =>
    width === 4 ? view.setFloat32(4 * i, v, !big) : view.setFloat64(8 * i, v, !big),
  );
  return [...new Uint8Array(view.buffer)];
};

// Layout: Audio Interchange File Format 1.3 (1989) and AIFF-C (draft of 1991). sox writes the same in the server's test.
describe("AIFF", () => {
  test.each([8, 16, 24, 32])("%i-bit integers, high byte first", (bits) => {
    const values = integers(someNoise, bits);
    const file = iff(
      "AIFF",
      iffChunk("COMM", aiffCommon(frames, bits, 1, 44100)),
      sound(pcm(values, bits, false)),
    );
    const { channels, sampleRate, info } = readAudio(file);
    expect(sampleRate).toBe(44100);
    expect(info.frames).toBe(frames);
    expect(
      largestDifference(
        channels[0]!,
        Float32Array.from(values, (v) => v / 2 ** (bits - 1)),
      ),
    ).toBe(0);
  });
  test.each<[string, number, number[]]>([
    ["NONE", 16, pcm(integers(someNoise, 16), 16, false)],
    ["twos", 16, pcm(integers(someNoise, 16), 16, false)],
    ["sowt", 16, pcm(integers(someNoise, 16), 16, true)],
    ["in24", 24, pcm(integers(someNoise, 24), 24, false)],
    ["fl32", 32, floats(true, 4)],
    ["fl64", 64, floats(true, 8)],
  ])("AIFF-C %s", (kind, bits, bytes) => {
    const file = iff("AIFC", iffChunk("COMM", aiffCommon(frames, bits, 1, 48000, kind)), sound(bytes));
    // Half a step of rounding and one of the full scale that a signed integer cannot reach.
    expect(largestDifference(readAudio(file).channels[0]!, someNoise)).toBeLessThan(
      3 / 2 ** Math.min(bits, 24),
    );
  });
  test("two channels, an offset in the sound chunk, markers behind it", () => {
    const values = integers(someNoise, 16);
    const both = values.flatMap((v) => pcm([v, -v], 16, false));
    const offset = iffChunk("SSND", [...be(6, 4), ...be(0, 4), 1, 2, 3, 4, 5, 6, ...both]);
    const mark = iffChunk("MARK", [
      ...be(2, 2),
      ...[...be(1, 2), ...be(200, 4), 4, ...[..."fill"].map((c) => c.charCodeAt(0)), 0],
      ...[...be(2, 2), ...be(100, 4), 5, ...[..."verse"].map((c) => c.charCodeAt(0))],
    ]);
    const file = iff("AIFF", iffChunk("COMM", aiffCommon(frames, 16, 2, 96000)), offset, mark);
    const { channels, markers } = readAudio(file);
    expect(channels[1]!.every((v, i) => v === -channels[0]![i]!)).toBe(true);
    expect(markers).toEqual([
      { frame: 100, name: "verse" },
      { frame: 200, name: "fill" },
    ]);
  });
  test.each<[string, Uint8Array, string]>([
    [
      "a compressed kind",
      iff("AIFC", iffChunk("COMM", aiffCommon(9, 16, 1, 48000, "ima4")), sound([])),
      'kind "ima4"',
    ],
    [
      "more frames than are there",
      iff(
        "AIFF",
        iffChunk("COMM", aiffCommon(301, 16, 1, 48000)),
        sound(pcm(integers(someNoise, 16), 16, false)),
      ),
      "301 frames are promised, 300 are there",
    ],
    ["audio without a format", iff("AIFF", sound([0, 0])), "before its format is told"],
    ["no audio", iff("AIFF", iffChunk("COMM", aiffCommon(9, 16, 1, 48000))), "holds no audio chunk"],
    [
      "a rate of 5 Hz",
      iff("AIFF", iffChunk("COMM", aiffCommon(9, 16, 1, 5)), sound([0, 0])),
      "sample rate of 5 Hz",
    ],
    [
      "six channels",
      iff("AIFF", iffChunk("COMM", aiffCommon(9, 16, 6, 48000)), sound([0, 0])),
      "has 6 channels",
    ],
  ])("%s is refused with the reason", (_, file, reason) => {
    expect(() => readAudio(file)).toThrow(AudioFileError);
    expect(() => readAudio(file)).toThrow(reason);
  });
});
