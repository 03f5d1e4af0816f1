import { totalmem } from "node:os";
import { AppError } from "./errors";

/** What else the program holds while it works, bytes, and the share of the memory that may be taken. */
const beside = 1.5e9;
const share = 0.9;

export const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(bytes < 1e10 ? 1 : 0)} GB`;

/** Memory of this machine, or of the part of it that this program is allowed, bytes. */
export function memoryHere(): number {
  const allowed = process.constrainedMemory();
  return allowed && allowed < totalmem() ? allowed : totalmem();
}

/** Bytes of decoded audio that an analysis can hold. */
export const analysisMost = (memory = memoryHere()): number => share * memory - beside;

/**
 * Errors  AppError before work that holds all mics in memory begins, where they do not fit: the system would end the
 * program in the middle. Shape  channels and frames of every mic.
 */
export function checkMemory(
  mics: readonly { readonly channels: number; readonly frames: number }[],
  memory = memoryHere(),
): void {
  const needed = mics.reduce((sum, m) => sum + 4 * m.channels * m.frames, 0);
  if (needed > analysisMost(memory))
    throw new AppError(
      "too_large",
      `The analysis holds all mics in memory: this song needs ${gigabytes(needed + beside)}, and this machine has ${gigabytes(memory)}. Nothing was changed. Bring the takes in as songs of their own, or start a worker on a machine with more memory.`,
    );
}
