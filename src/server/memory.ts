import { totalmem } from "node:os";
import { AppError } from "./errors";

export const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(bytes < 1e10 ? 1 : 0)} GB`;

/** Memory of this machine, or of the part of it that this program is allowed, bytes. */
export function memoryHere(): number {
  const allowed = process.constrainedMemory();
  return allowed && allowed < totalmem() ? allowed : totalmem();
}

/** Decoded audio that an analysis holds in memory at most, bytes: half an hour of six mics, or eight minutes of 24. */
const most = 2.2e9;
/** Share of the memory that this may take. */
const share = 0.25;

/** Bytes of decoded audio up to which an analysis holds all of it in memory; what is more lies on the disk meanwhile. */
export const analysisHeld = (memory = memoryHere()): number => Math.min(most, share * memory);

/** Bytes of some mics decoded. Shape  channels and frames of each. */
export const decodedBytes = (
  mics: readonly { readonly channels: number; readonly frames: number }[],
): number => mics.reduce((sum, m) => sum + 4 * m.channels * m.frames, 0);

/**
 * What an analysis needs beside decoded audio, bytes: always, by minute of the song for what is struck in it, and by minute of every
 * channel; at least a third more than was measured of 24 mics up to an hour and of 64 over two (docs/performance.md).
 */
const beside = 0.7e9;
const byMinute = 9e6;
const byChannelMinute = 0.1e6;
/** Share of the memory that it may take. */
const usable = 0.9;

/**
 * Errors  AppError before an analysis begins that memory cannot hold even while its audio lies on the disk: the system would end the
 * program in the middle. Shape  channels and frames of every mic; sample rate Hz.
 */
export function checkMemory(
  mics: readonly { readonly channels: number; readonly frames: number }[],
  sampleRate: number,
  memory = memoryHere(),
): void {
  const minutesOf = ({ frames }: { readonly frames: number }): number => frames / sampleRate / 60;
  const channelMinutes = mics.reduce((sum, m) => sum + m.channels * minutesOf(m), 0);
  const longest = Math.max(0, ...mics.map(minutesOf));
  const needed = beside + byMinute * longest + byChannelMinute * channelMinutes;
  if (needed > usable * memory)
    throw new AppError(
      "too_large",
      `The analysis of this song needs ${gigabytes(needed)} of memory, and this machine has ${gigabytes(memory)}. Nothing was changed. Bring the takes in as songs of their own, or start a worker on a machine with more memory.`,
    );
}
