import { describe, expect, test } from "@jest/globals";
import { randomSource } from "../signal/random";
import { largestPcm, type PlainPcm } from "./largestPcm";
import { decodeFrames } from "./decodeFrames";
import { bytesOf } from "./sampleFormat";

const formats: readonly PlainPcm[] = ["pcm16", "pcm24"];

describe("the largest sample by its bytes", () => {
  test.each(formats)("of %s is the largest of what is decoded", (format) => {
    const random = randomSource(5);
    for (let run = 0; run < 50; run++) {
      const count = 1 + Math.floor(random() * 40);
      const bytes = Uint8Array.from({ length: count * bytesOf[format] }, () => Math.floor(256 * random()));
      const decoded = new Float32Array(count);
      decodeFrames(bytes, { sampleFormat: format, channels: 1 }, count, [decoded]);
      expect(largestPcm(bytes, format, count)).toBe(Math.max(...decoded.map(Math.abs)));
    }
  });
  test.each(formats)("of %s is found wherever it lies in what is looked at in several goes", (format) => {
    const [count, width] = [150_001, bytesOf[format]];
    for (const place of [0, 1, 65535, 65536, 131_071, 131_072, count - 1]) {
      const bytes = new Uint8Array(count * width);
      bytes[place * width + width - 1] = place % 2 === 0 ? 0x40 : 0xc0;
      expect(largestPcm(bytes, format, count)).toBe(0.5);
      // Neither what lies behind, nor what an earlier look has left, is looked at.
      expect(largestPcm(bytes, format, place)).toBe(0);
    }
  });
  test("the lowest number is full scale, one step more than the highest", () => {
    expect(largestPcm(Uint8Array.of(0, 0, 0x80), "pcm24", 1)).toBe(1);
    expect(largestPcm(Uint8Array.of(0xff, 0xff, 0x7f), "pcm24", 1)).toBe(8388607 / 8388608);
    expect(largestPcm(Uint8Array.of(0, 0x80), "pcm16", 1)).toBe(1);
    expect(largestPcm(new Uint8Array(0), "pcm16", 0)).toBe(0);
  });
});
