import { createReadStream, mkdtempSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { audioOfMics, windowReader } from "../audio/songAudio";
import { storeFile } from "../audio/store";
import { inTransaction, pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError } from "../errors";
import { fileFormats, renderFiles, type FileFormat } from "../render/renderFiles";

export interface ExportOptions {
  stems?: boolean;
  buses?: boolean;
  format?: string;
}

export interface ExportedFile {
  id: string;
  name: string;
  byteLength: number;
}

/** Renders a song and stores the files; nothing is stored when it breaks off. */
export async function exportSong(
  songId: string,
  options: ExportOptions,
  progress: (share: number) => void,
): Promise<ExportedFile[]> {
  const row = await findSong(pool(), songId);
  if (!row) throw new AppError("not_found", "This song does not exist any more.");
  const format = (options.format ?? "wav24") as FileFormat;
  if (!fileFormats.includes(format)) throw new AppError("invalid", `Unknown format ${format}.`);
  const song = row.document;
  if (song.mics.length === 0)
    throw new AppError("invalid", "There is nothing to export: bring in some files first.");
  const audio = await audioOfMics(pool(), songId, song);
  const shift = song.edits.reduce((most, e) => Math.max(most, Math.abs(e.shift)), 0);
  const { reader, prefetch } = windowReader(pool(), audio, shift);
  const folder = mkdtempSync(join(tmpdir(), "jubo-export-"));
  try {
    const targets = { kit: true, stems: options.stems ?? false, buses: options.buses ?? false };
    const paths = await renderFiles(
      song,
      reader,
      folder,
      targets,
      format,
      (share) => progress(0.9 * share),
      prefetch,
    );
    return await inTransaction(async (db) => {
      const files: ExportedFile[] = [];
      for (const path of paths) {
        const name = path.startsWith(join(folder, "stems")) ? `stem ${basename(path)}` : basename(path);
        const type = format === "flac" ? "audio/flac" : "audio/wav";
        const stored = await storeFile(db, name, type, createReadStream(path, { highWaterMark: 1 << 20 }));
        files.push({ id: stored.id, name, byteLength: statSync(path).size });
        progress(0.9 + (0.1 * files.length) / paths.length);
      }
      return files;
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
