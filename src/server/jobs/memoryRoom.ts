import { AppError } from "../errors";
import { memoryHere } from "../memory";

/** What else the program holds while it works, bytes, and the share of the memory that may be taken. */
const beside = 1.5e9;
const share = 0.9;

const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(bytes < 1e10 ? 1 : 0)} GB`;

/**
 * Errors  AppError before work that holds all mics in memory begins, where they do not fit: the system would end the
 * program in the middle. Shape  channels and frames of every mic.
 */
export function checkMemory(
  mics: readonly { readonly channels: number; readonly frames: number }[],
  memory = memoryHere(),
): void {
  const needed = beside + mics.reduce((sum, m) => sum + 4 * m.channels * m.frames, 0);
  if (needed > share * memory)
    throw new AppError(
      "too_large",
      `The analysis holds all mics in memory: this song needs ${gigabytes(needed)}, and this machine has ${gigabytes(memory)}. Nothing was changed. Bring the takes in as songs of their own, or start a worker on a machine with more memory.`,
    );
}
