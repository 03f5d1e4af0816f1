import { mkdir, statfs } from "node:fs/promises";
import type { Room } from "../../contract";
import { AppError } from "../errors";
import { analysisHeld, gigabytes } from "../memory";
import { Spool } from "./spool";
import { uploadsFolder } from "./uploadsFolder";

/** While a file comes in it lies on the disk twice: as its parts, and in the database. */
const copies = 2;
/** What is left free for everything else, bytes. */
const spare = 200e6;

/** Room on the disk where files come in, and how much decoded audio an analysis holds without it. */
export async function room(): Promise<Room> {
  await mkdir(uploadsFolder(), { recursive: true });
  const { bavail, bsize } = await statfs(uploadsFolder());
  return { diskFree: bavail * bsize, analysisHeld: analysisHeld() };
}

/** Errors  AppError in words before any byte of a file is sent for which there is no room. */
export async function checkRoomFor(name: string, bytes: number): Promise<void> {
  const { diskFree } = await room();
  const needed = copies * bytes + spare;
  if (needed > diskFree)
    throw new AppError(
      "too_large",
      `${name} needs ${gigabytes(needed)} on the disk while it comes in, and ${gigabytes(diskFree)} are free. Nothing was changed; free some room, then try again.`,
    );
}

/** What an analysis puts on the disk against the decoded audio: energies, six numbers for every 128 frames or so, are put beside it. */
const withEnergies = 1.06;

/** A spool for so much decoded audio, bytes; null where memory holds it (`held`). Errors  as checkRoomToAnalyse. */
export async function spoolFor(bytes: number, held = analysisHeld()): Promise<Spool | null> {
  if (bytes <= held) return null;
  await checkRoomToAnalyse(bytes);
  return Spool.open();
}

/** Errors  AppError in words before an analysis begins whose decoded audio, so many bytes, has no room on the disk. */
async function checkRoomToAnalyse(bytes: number): Promise<void> {
  const { diskFree } = await room();
  const needed = withEnergies * bytes + spare;
  if (needed > diskFree)
    throw new AppError(
      "too_large",
      `While this song is analysed its audio lies decoded on the disk: ${gigabytes(needed)} are needed, and ${gigabytes(diskFree)} are free. Nothing was changed; free some room, then try again.`,
    );
}
