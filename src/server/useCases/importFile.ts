import { open, readFile } from "node:fs/promises";
import { isMidi } from "../../core/file/midi";
import { AppError } from "../errors";
import { entriesOf, openZip, streamOf, usableEntries } from "../audio/zip";
import { importAudio } from "./importAudio";
import { importTempoMap, largestMidi } from "./importTempoMap";

/** How the files of one delivery fared. */
export interface Delivered {
  readonly taken: { file: string; remarks: string[] }[];
  readonly refused: { file: string; message: string }[];
}

/** "PK" and the mark of an entry, or of the end where there is none. */
const isZip = ([p, k, a, b]: Uint8Array): boolean =>
  p === 0x50 && k === 0x4b && ((a === 3 && b === 4) || (a === 5 && b === 6));

async function headOf(path: string): Promise<Uint8Array> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(16), 0, 16, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/**
 * Takes a file on disk into a song by what it is: audio, a tempo map, or a ZIP archive of them, whose files are taken one
 * by one; a damaged one is named and the others still come in.
 * Errors  AppError when nothing of it was taken.
 */
export async function importFile(
  songId: string,
  name: string,
  bytes: number,
  path: string,
): Promise<Delivered> {
  const head = await headOf(path);
  if (isZip(head)) return importZip(songId, name, path);
  if (isMidi(head)) {
    if (bytes > largestMidi)
      throw new AppError("too_large", `${name} has ${bytes} bytes; a tempo map has at most ${largestMidi}.`);
    return { taken: [await importTempoMap(songId, name, await readFile(path))], refused: [] };
  }
  const { mic, remarks } = await importAudio(songId, name, bytes, { path });
  return { taken: [{ file: mic.file, remarks }], refused: [] };
}

async function importZip(songId: string, archive: string, path: string): Promise<Delivered> {
  const zip = await openZip(path);
  const delivered: Delivered = { taken: [], refused: [] };
  try {
    for (const [name, entry] of usableEntries(await entriesOf(zip))) {
      if (!/\.(wav|wave|bwf|rf64|aif|aiff|aifc|flac|mid|midi)$/i.test(name)) continue;
      try {
        if (/\.midi?$/i.test(name)) {
          const parts: Buffer[] = [];
          if (entry.uncompressedSize > largestMidi) continue;
          for await (const part of streamOf(zip, entry)) parts.push(part);
          delivered.taken.push(await importTempoMap(songId, name, Buffer.concat(parts)));
          continue;
        }
        const { mic, remarks } = await importAudio(
          songId,
          name,
          entry.uncompressedSize,
          streamOf(zip, entry),
        );
        delivered.taken.push({ file: mic.file, remarks });
      } catch (error) {
        if (!(error instanceof AppError)) throw error;
        delivered.refused.push({ file: name, message: error.message });
      }
    }
  } finally {
    zip.close();
  }
  if (delivered.taken.length + delivered.refused.length === 0)
    throw new AppError("invalid", `${archive} holds no WAV, AIFF, FLAC or MIDI file. Nothing was changed.`);
  return delivered;
}
