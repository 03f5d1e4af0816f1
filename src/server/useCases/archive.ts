import { Readable } from "node:stream";
import type yauzl from "yauzl";
import yazl from "yazl";
import type { Facts } from "../../core/facts/facts";
import { readFacts } from "../../core/facts/readFacts";
import { newestFormat } from "../../core/song/formats";
import { readSong } from "../../core/song/songFile";
import type { Mic, Song } from "../../core/song/song";
import { addCorrectedCopy } from "../audio/playable";
import { audioOfMics } from "../audio/songAudio";
import { streamFile } from "../audio/store";
import { entriesOf, openZip, streamOf } from "../audio/zip";
import { inTransaction, pool } from "../db/pool";
import { findAudio } from "../db/queries/audio";
import { findFile } from "../db/queries/file";
import { deleteSong, findSong, lockSong, updateFacts, updateSong } from "../db/queries/song";
import { readJson } from "../readJson";
import { AppError, songGone } from "../errors";
import { createSong } from "./createSong";
import { importAudio } from "./importAudio";
import { revisionSong } from "./revisions";

const songEntry = "song.json";
const factsEntry = "facts.json";
/** Fixed time stamp, so that the same song gives the same archive byte for byte. */
const mtime = new Date("2020-01-01T00:00:00Z");

/**
 * The whole song as a ZIP archive: song.json, facts.json, and every original under audio/ as it was delivered.
 * `revision`: the song as it was kept under that number.
 * Audio ids, which belong to one database, are taken out of song.json; files are found by their name.
 */
export async function packSong(
  songId: string,
  revision: number | null = null,
): Promise<{ title: string; stream: NodeJS.ReadableStream }> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = revision === null ? row.document : await revisionSong(songId, revision);
  const audio = await audioOfMics(pool(), songId, song);
  const zip = new yazl.ZipFile();
  const portable: Song = { ...song, mics: song.mics.map((m) => ({ ...m, audio: null })) };
  zip.addBuffer(Buffer.from(JSON.stringify(portable, null, 1)), songEntry, { mtime });
  zip.addBuffer(Buffer.from(JSON.stringify(row.facts)), factsEntry, { mtime });
  for (const [i, mic] of song.mics.entries()) {
    const file = (await findFile(pool(), audio[i]!.audio.originalFileId))!;
    const stream = Readable.from(streamFile(pool(), file), { objectMode: false });
    zip.addReadStream(stream, `audio/${mic.file.replace(/[\\/]/g, "-")}`, {
      mtime,
      compress: false,
      size: file.byteLength,
    });
  }
  zip.end();
  return { title: song.title, stream: zip.outputStream };
}

async function jsonOf(zip: yauzl.ZipFile, entry: yauzl.Entry | undefined, name: string): Promise<unknown> {
  if (!entry) throw new AppError("invalid", `The archive lacks ${name}; it is not a song of Jubo.`);
  if (entry.uncompressedSize > 64 * 1024 * 1024)
    throw new AppError("too_large", `${name} in the archive is too large.`);
  const parts: Buffer[] = [];
  for await (const part of streamOf(zip, entry)) parts.push(part);
  try {
    return readJson(Buffer.concat(parts).toString("utf8"));
  } catch (error) {
    const why = error instanceof RangeError ? `: ${error.message}` : "";
    throw new AppError("invalid", `${name} in the archive is not readable${why}.`);
  }
}

/** Makes a new song from an archive on disk; nothing is left behind when it fails. Returns the new song's id. */
export async function unpackSong(path: string): Promise<string> {
  const zip = await openZip(path);
  try {
    const entries = await entriesOf(zip);
    let song: Song;
    let facts: Facts | null;
    try {
      const document = await jsonOf(zip, entries.get(songEntry), songEntry);
      song = readSong(document);
      const newest = (document as Song).formatVersion === newestFormat;
      facts = readFacts(await jsonOf(zip, entries.get(factsEntry), factsEntry), newest);
    } catch (error) {
      if (error instanceof AppError) throw error;
      throw new AppError("invalid", `The archive's song cannot be read: ${(error as Error).message}.`);
    }
    const id = await createSong(song.title);
    try {
      await fillSong(id, song, facts, zip, entries);
      return id;
    } catch (error) {
      await deleteSong(pool(), id);
      throw error;
    }
  } finally {
    zip.close();
  }
}

/** The copy of an imported audio that is played when its recorder's clock was corrected. */
const correctedId = (songId: string, audioId: string, { file, clockPpm }: Mic): Promise<string> =>
  inTransaction(
    async (db) =>
      (await addCorrectedCopy(db, songId, (await findAudio(db, audioId))!, file, clockPpm)).audioId,
  );

/** Frames by which a file converted to the song's rate, or corrected for a clock, may be longer or shorter. */
const rounding = 2;

/** Errors  AppError where the audio is not what the song was made of. */
function checkLength(wanted: Mic, { frames, channels }: Pick<Mic, "frames" | "channels">): void {
  const drifted = (Math.abs(wanted.clockPpm) / 1e6) * wanted.frames;
  if (channels === wanted.channels && Math.abs(frames - wanted.frames) <= rounding + drifted) return;
  throw new AppError(
    "invalid",
    `The audio of ${wanted.file} in the archive has ${frames} frames in ${channels} channels; the song was made of ${wanted.frames} frames in ${wanted.channels}.`,
  );
}

async function fillSong(
  id: string,
  song: Song,
  facts: Facts | null,
  zip: yauzl.ZipFile,
  entries: Map<string, yauzl.Entry>,
): Promise<void> {
  const audioIds = new Map<string, string>();
  for (const mic of song.mics) {
    const entry = entries.get(`audio/${mic.file.replace(/[\\/]/g, "-")}`);
    if (!entry) throw new AppError("invalid", `The archive lacks the audio of ${mic.file}.`);
    const { mic: imported } = await importAudio(
      id,
      mic.file,
      entry.uncompressedSize,
      streamOf(zip, entry),
      song.sampleRate,
    );
    checkLength(mic, imported);
    audioIds.set(mic.id, mic.clockPpm === 0 ? imported.audio! : await correctedId(id, imported.audio!, mic));
  }
  await inTransaction(async (db) => {
    const row = (await lockSong(db, id))!;
    const whole: Song = { ...song, mics: song.mics.map((m) => ({ ...m, audio: audioIds.get(m.id)! })) };
    await db.query("delete from song_operation where song_id = $1", [id]);
    await updateSong(db, id, whole, row.version + 1, 0);
    if (facts) await updateFacts(db, id, facts);
  });
}
