import { statSync, writeFileSync } from "node:fs";
import { basename, dirname, extname, join, relative } from "node:path";
import { cutTime } from "../../core/engine/cuts";
import { readingReach, readingsOf } from "../../core/engine/oneShots/readings";
import { verdictsOf, type Verdict } from "../../core/deliver/checks";
import { checkDelivery, usualDelivery, usualTail, type Delivery } from "../../core/deliver/delivery";
import { writeHitsMidi } from "../../core/file/hitsMidi";
import { uniqueName } from "../../core/file/uniqueName";
import { writeWav } from "../../core/file/wavWrite";
import { layerHits } from "../../core/layers/layerHits";
import { isLayer, steps, type Song } from "../../core/song/song";
import { isTaken } from "../../core/proposals/decided";
import { factsNow } from "../../core/facts/factsNow";
import { noFacts, type Facts } from "../../core/facts/facts";
import { proposeStep } from "../../core/proposals/propose";
import type { Measurement } from "../../core/measure/measureAudio";
import { measureTightness } from "../../core/tighten/tightness";
import { piecesOf } from "../audio/pieces";
import { audioOfMics, readWhole, windowReader } from "../audio/songAudio";
import { storeFile } from "../audio/store";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { withOwnFolder } from "../ownFolder";
import type { Job } from "./turn";
import { renderFiles, type WholeMic } from "../render/renderFiles";
import { listRevisions } from "../db/queries/revision";
import { reportHtml, type Beside } from "../render/report";

export type ExportOptions = Partial<Delivery>;

export interface ExportedFile {
  id: string;
  /** Where it lies in what is packed: stems, buses, or at the top. Renders of former versions do not say. */
  folder?: string;
  name: string;
  byteLength: number;
}

export interface Exported {
  files: ExportedFile[];
  /** Of the kit as delivered. */
  kit: Measurement;
  /** What was asked for, completed, and what was found of it, worst first. */
  delivery: Delivery;
  verdicts: Verdict[];
}

/** The printable page of what was done to a stored song. */
function reportOf(song: Song, facts: Facts, kit: Measurement, beside: Beside): string {
  const taken = steps.flatMap((step) => proposeStep(song, facts, step)).filter((p) => isTaken(song, p));
  return reportHtml({ song, taken, tightness: measureTightness(song) }, kit, beside);
}

const mediaTypes: Record<string, string> = {
  ".flac": "audio/flac",
  ".mid": "audio/midi",
  ".html": "text/html; charset=utf-8",
};

/** Strokes and tempo as they are played. */
function writeMidi(song: Song, folder: string): string {
  const path = join(folder, "hits.mid");
  const cuts = [song.edits];
  const playedAt = (t: number) => cutTime(cuts, t, song.sampleRate);
  writeFileSync(path, writeHitsMidi(song.hits, song.tempo, song.title, playedAt));
  return path;
}

/** What every layer plays as MIDI, and its sounds as files, so that it can be played elsewhere. */
async function writeLayers(song: Song, folder: string, whole: WholeMic): Promise<string[]> {
  const paths: string[] = [];
  const write = (name: string, bytes: Uint8Array): void => {
    const file = uniqueName(
      name.replace(/[\\/:*?"<>|]/g, "_"),
      paths.map((p) => basename(p)),
    );
    paths.push(join(folder, file));
    writeFileSync(paths.at(-1)!, bytes);
  };
  for (const [m, mic] of song.mics.entries()) {
    if (!isLayer(mic)) continue;
    const name = mic.file.replace(/\.[^.]*$/, "");
    write(`${name}.mid`, writeHitsMidi(layerHits(song, mic), song.tempo, name));
    const audio = await whole(m);
    for (const { from, frames, name: sound } of mic.layer.sounds.filter((s) => s.on))
      write(
        `${name}, ${sound}.wav`,
        writeWav(
          { sampleRate: song.sampleRate, channels: audio.map((x) => x.slice(from, from + frames)) },
          "wav24",
        ),
      );
  }
  return paths;
}

/** What is asked for, completed. Errors  AppError in words. */
function deliveryOf(song: Song, options: ExportOptions): Delivery {
  const delivery = { ...usualDelivery, stems: false, tail: usualTail(song), ...options };
  try {
    checkDelivery(song, delivery);
  } catch (error) {
    throw new AppError("invalid", `${(error as Error).message}. Nothing was rendered.`);
  }
  return delivery;
}

/** Renders a song and stores the files; nothing is stored when it breaks off. */
export async function exportSong(songId: string, options: ExportOptions, job: Job): Promise<Exported> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = row.document;
  const delivery = deliveryOf(song, options);
  if (song.mics.length === 0)
    throw new AppError("invalid", "There is nothing to export: bring in some files first.");
  const audio = await audioOfMics(pool(), songId, song);
  const shift = readingReach(readingsOf(song));
  const { reader, prefetch } = windowReader(pool(), audio, shift);
  return withOwnFolder(async (folder) => {
    const whole = (i: number) => readWhole(pool(), { ...audio[i]!, start: 0 });
    const { paths, delivered } = await renderFiles(song, reader, folder, delivery, {
      progress: (share, doing) => job.report(0.85 * share, doing),
      prefetch,
      whole,
    });
    const { kit } = delivered;
    const verdicts = verdictsOf(song, delivery, delivered);
    if (delivery.midi) paths.push(writeMidi(song, folder), ...(await writeLayers(song, folder, whole)));
    job.report(0.9, "writing the page of what was done");
    const revisions = await listRevisions(pool(), songId);
    const report = join(folder, "report.html");
    writeFileSync(
      report,
      reportOf(song, factsNow(row.document, row.facts ?? noFacts), kit, { verdicts, revisions }),
    );
    paths.push(report);
    return await job.commit(async (db) => {
      const files: ExportedFile[] = [];
      for (const path of paths) {
        const name = basename(path);
        const type = mediaTypes[extname(path)] ?? "audio/wav";
        const stored = await storeFile(db, name, type, piecesOf(path));
        files.push({
          id: stored.id,
          folder: relative(folder, dirname(path)),
          name,
          byteLength: statSync(path).size,
        });
        job.report(
          0.9 + (0.1 * files.length) / paths.length,
          `storing ${name}, ${files.length} of ${paths.length}`,
        );
      }
      return { files, kit, delivery, verdicts };
    });
  });
}
