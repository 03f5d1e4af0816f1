import { createReadStream, mkdtempSync, rmSync, statSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { basename, extname, join } from "node:path";
import { cutsOf, reachOf } from "../../core/engine/cuts";
import { isTaken } from "../../core/proposals/decided";
import { factsNow } from "../../core/facts/factsNow";
import { noFacts, type Facts } from "../../core/facts/facts";
import { proposeStep } from "../../core/proposals/propose";
import { measureAudio, type Measurement } from "../../core/measure/measureAudio";
import { steps, type Song } from "../../core/song/song";
import { measureTightness } from "../../core/tighten/tightness";
import { audioOfMics, readWhole, windowReader } from "../audio/songAudio";
import { storeFile } from "../audio/store";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import type { Job } from "./turn";
import { fileFormats, type FileFormat } from "../render/outputFiles";
import { renderFiles } from "../render/renderFiles";
import { reportHtml } from "../render/report";

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

export interface Exported {
  files: ExportedFile[];
  /** Of the kit as rendered. */
  kit: Measurement;
}

/** The printable page of what was done to a stored song. */
function reportOf(song: Song, facts: Facts, kit: Measurement): string {
  const taken = steps.flatMap((step) => proposeStep(song, facts, step)).filter((p) => isTaken(song, p));
  const { tempo, hits, tighten, sections, edits, sampleRate } = song;
  const tightness = tempo && measureTightness(hits, tempo, tighten, sections, edits, sampleRate);
  return reportHtml({ song, taken, tightness }, kit);
}

const mediaTypes: Record<string, string> = { ".flac": "audio/flac", ".html": "text/html; charset=utf-8" };

/** Name under which a file is listed: those of buses and stems say so, so that none is called as the kit is. */
const listed = (path: string): string =>
  path.startsWith("stems")
    ? `stem ${basename(path)}`
    : path.startsWith("buses")
      ? `bus ${basename(path)}`
      : basename(path);

/** Renders a song and stores the files; nothing is stored when it breaks off. */
export async function exportSong(songId: string, options: ExportOptions, job: Job): Promise<Exported> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const format = (options.format ?? "wav24") as FileFormat;
  if (!fileFormats.includes(format)) throw new AppError("invalid", `Unknown format ${format}.`);
  const song = row.document;
  if (song.mics.length === 0)
    throw new AppError("invalid", "There is nothing to export: bring in some files first.");
  const audio = await audioOfMics(pool(), songId, song);
  const shift = reachOf(cutsOf(song));
  const { reader, prefetch } = windowReader(pool(), audio, shift);
  const folder = mkdtempSync(join(tmpdir(), "jubo-export-"));
  try {
    const targets = { kit: true, stems: options.stems ?? false, buses: options.buses ?? false };
    const mix = [new Float32Array(song.frames), new Float32Array(song.frames)];
    let written = 0;
    const paths = await renderFiles(
      song,
      reader,
      folder,
      targets,
      format,
      {
        progress: (share) => job.report(0.85 * share),
        prefetch,
        whole: (i) => readWhole(pool(), { ...audio[i]!, start: 0 }),
      },
      (name, channels, frames) => {
        if (name !== "kit") return;
        mix.forEach((x, ch) => x.set(channels[ch]!.subarray(0, frames), written));
        written += frames;
      },
    );
    const kit = measureAudio(mix, song.sampleRate);
    job.report(0.9);
    const report = join(folder, "report.html");
    writeFileSync(report, reportOf(song, factsNow(row.document, row.facts ?? noFacts), kit));
    paths.push(report);
    return await job.commit(async (db) => {
      const files: ExportedFile[] = [];
      for (const path of paths) {
        const name = listed(path.slice(folder.length + 1));
        const type = mediaTypes[extname(path)] ?? "audio/wav";
        const stored = await storeFile(db, name, type, createReadStream(path, { highWaterMark: 1 << 20 }));
        files.push({ id: stored.id, name, byteLength: statSync(path).size });
        job.report(0.9 + (0.1 * files.length) / paths.length);
      }
      return { files, kit };
    });
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
