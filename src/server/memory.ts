import { totalmem } from "node:os";

export const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(bytes < 1e10 ? 1 : 0)} GB`;

/** Memory of this machine, or of the part of it that this program is allowed, bytes. */
export function memoryHere(): number {
  const allowed = process.constrainedMemory();
  return allowed && allowed < totalmem() ? allowed : totalmem();
}

/** Decoded audio that an analysis holds in memory at most, bytes: half an hour of six mics, or eight minutes of 24. */
const most = 2.2e9;
/** Share of the memory that it may take. */
const share = 0.25;

/** Bytes of decoded audio up to which an analysis holds all of it in memory; what is more lies on the disk meanwhile. */
export const analysisHeld = (memory = memoryHere()): number => Math.min(most, share * memory);

/** Bytes of some mics decoded. Shape  channels and frames of each. */
export const decodedBytes = (
  mics: readonly { readonly channels: number; readonly frames: number }[],
): number => mics.reduce((sum, m) => sum + 4 * m.channels * m.frames, 0);
