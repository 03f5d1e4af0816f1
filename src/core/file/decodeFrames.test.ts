import { expect, test } from "@jest/globals";
import fc from "fast-check";
import { decodeFrames } from "./decodeFrames";

/** The value of three bytes, low one first, as two's complement: by arithmetic, no shifts. */
const value24 = (low: number, middle: number, high: number): number => {
  const whole = low + 256 * middle + 65536 * high;
  return (whole < 8388608 ? whole : whole - 16777216) / 8388608;
};

test("samples of three bytes, packed or interleaved, wherever they lie in memory", () => {
  fc.assert(
    fc.property(
      fc.uint8Array({ minLength: 0, maxLength: 90 }),
      fc.integer({ min: 0, max: 7 }),
      fc.integer({ min: 1, max: 3 }),
      fc.integer({ min: 0, max: 5 }),
      (content, askew, channels, to) => {
        const count = Math.floor(content.length / (3 * channels));
        const bytes = new Uint8Array(askew + content.length).subarray(askew);
        bytes.set(content);
        const out = Array.from({ length: channels }, () => new Float32Array(to + count + 1).fill(7));
        decodeFrames(bytes, { sampleFormat: "pcm24", channels }, count, out, to);
        out.forEach((y, ch) => {
          for (let i = 0; i < count; i++) {
            const at = 3 * (i * channels + ch);
            expect(y[to + i]).toBe(value24(bytes[at]!, bytes[at + 1]!, bytes[at + 2]!));
          }
          expect(y[to + count]).toBe(7); // nothing behind it is touched
          if (to > 0) expect(y[to - 1]).toBe(7);
        });
      },
    ),
  );
});
test("full scale and the smallest steps of every whole format", () => {
  const one = (sampleFormat: Parameters<typeof decodeFrames>[1]["sampleFormat"], bytes: number[]) => {
    const y = new Float32Array(1);
    decodeFrames(Uint8Array.from(bytes), { sampleFormat, channels: 1 }, 1, [y]);
    return y[0];
  };
  expect(one("pcm8", [0])).toBe(-1);
  expect(one("pcm8s", [0x80])).toBe(-1);
  expect(one("pcm16", [0, 0x80])).toBe(-1);
  expect(one("pcm16be", [0x80, 0])).toBe(-1);
  expect(one("pcm24", [0, 0, 0x80])).toBe(-1);
  expect(one("pcm24be", [0xff, 0xff, 0xff])).toBe(-1 / 8388608);
  expect(one("pcm32", [0, 0, 0, 0x80])).toBe(-1);
  expect(one("pcm32be", [0, 0, 1, 0])).toBe(256 / 2147483648);
});
