import type { SampleFormat } from "./sampleFormat";

/** Formats whose largest sample is told from their bytes: nearly all that is recorded. */
export type PlainPcm = "pcm16" | "pcm24";
export const isPlainPcm = (format: SampleFormat): format is PlainPcm =>
  format === "pcm16" || format === "pcm24";

/**
 * Largest magnitude of samples as they lie in a file, full scale 1: what decoding them and looking would give, without
 * either, because it runs over every byte that comes in.
 * Shape   bytes: `count` samples in a row, of whatever channel.
 */
export function largestPcm(bytes: Uint8Array, format: PlainPcm, count: number): number {
  let most = 0;
  let least = 0;
  if (format === "pcm24")
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      const value = (bytes[at + 2]! << 24) | (bytes[at + 1]! << 16) | (bytes[at]! << 8);
      if (value > most) most = value;
      else if (value < least) least = value;
    }
  else
    for (let i = 0, at = 0; i < count; i++, at += 2) {
      const value = (bytes[at + 1]! << 24) | (bytes[at]! << 16);
      if (value > most) most = value;
      else if (value < least) least = value;
    }
  return Math.max(most, -least) / 2147483648;
}
