import { uniqueName } from "../../core/file/uniqueName";
import { AudioFileError } from "../../core/file/sampleFormat";
import type { Marker } from "../../core/file/audioInfo";
import { guessLabels } from "../../core/gather/labels";
import { placeMics, sectionsOf } from "../../core/gather/place";
import { gainToDb } from "../../core/signal/level";
import { newMic } from "../../core/song/create";
import { applyAll, type Operation } from "../../core/song/operations";
import { followLabel } from "../../core/song/relabel";
import { routeByLabel } from "../../core/song/routes";
import type { Mic, Song } from "../../core/song/song";
import type { Incoming } from "../audio/incoming";
import { addAudio, convertedCopy, decodedCopy, type Playable } from "../audio/playable";
import type { StoredFile } from "../audio/store";
import { storeIncoming } from "../audio/storeIncoming";
import { storeOnThread } from "../audio/storeOnThread";
import { inTransaction, pool, type Db } from "../db/pool";
import { deleteUnused } from "../db/queries/file";
import { findSongAudioByHash } from "../db/queries/audio";
import { findSong, lockSong, type SongRow } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { changeLocked } from "./editSong";

/** Largest file that is taken, bytes. */
export const largestFile = 8 * 1024 ** 3;
/** Most mics a song may have. */
export const mostMics = 64;
/** Name of a file without folders and control characters, never empty, 200 characters at most. */
export const cleanName = (name: string): string =>
  name
    .replace(/^.*[\\/]/, "")
    .replace(/\p{Cc}/gu, "")
    .trim()
    .slice(-200) || "unnamed.wav";

/** Errors  AppError where a song is full or holds the same audio already. */
async function checkRoom(
  db: Db,
  { id, document }: SongRow,
  name: string,
  { sha256 }: StoredFile,
): Promise<void> {
  if (document.mics.length >= mostMics)
    throw new AppError("invalid", `A song holds at most ${mostMics} mics; ${name} was left out.`);
  const twin = await findSongAudioByHash(db, id, sha256);
  if (twin)
    throw new AppError(
      "conflict",
      twin === name
        ? `${name} is in the song already, with the same audio; it was left out.`
        : `${name} holds the same audio as ${twin}; it was left out.`,
    );
}

/** How a stored file is played in a song; `song` null: it sets the song's rate. */
async function playable(
  name: string,
  stored: StoredFile,
  incoming: Incoming,
  songRate: number | null,
): Promise<{
  played: Playable;
  sampleRate: number;
  timeReference: number | null;
  markers: readonly Marker[];
  remarks: readonly string[];
}> {
  if (incoming.kind === "flac")
    return {
      ...(await decodedCopy(name, stored, songRate)),
      timeReference: null,
      markers: [],
      remarks: [],
    };
  const { info, peak, markers } = incoming;
  const { sampleRate, timeReference, remarks } = info;
  const played =
    songRate === null || songRate === sampleRate
      ? { stored, info, peak }
      : await convertedCopy(name, stored, info, songRate);
  return { played, sampleRate, timeReference: timeReference && timeReference / sampleRate, markers, remarks };
}

export interface Imported {
  mic: Mic;
  version: number;
  remarks: string[];
}

type Came = Awaited<ReturnType<typeof playable>>;

/** Makes a stored file, as it is played, a mic of the locked song. */
async function addMic(
  db: Db,
  row: SongRow,
  name: string,
  stored: StoredFile,
  came: Came,
  sampleRate: number,
): Promise<Imported> {
  const song = row.document;
  const { played, timeReference, markers } = came;
  const remarks = [...came.remarks];
  const converted = came.sampleRate !== sampleRate;
  if (converted) remarks.push(`converted from ${came.sampleRate} to ${sampleRate} Hz`);
  const convertedFrom = converted ? came.sampleRate : null;
  const audioId = await addAudio(db, row.id, stored.id, played, sampleRate, convertedFrom);
  const file = uniqueName(
    name,
    song.mics.map((m) => m.file),
  );
  const { channels, frames } = played.info;
  const [label] = guessLabels([{ file, channels }]);
  const facts = {
    id: nextMicId(song.mics),
    file,
    audio: audioId,
    channels,
    frames,
    timeReference,
    ...label!,
  };
  const mic: Mic = { ...newMic(facts), peakDbfs: gainToDb(played.peak) };
  const operations = takeMic({ ...song, sampleRate }, mic, markers);
  const start = applyAll(song, operations).mics.find((m) => m.id === mic.id)!.start;
  if (start > 0) remarks.push(`begins ${(start / sampleRate).toFixed(3)} s into the song`);
  const locked = { ...row, document: { ...song, sampleRate } };
  const version = await changeLocked(db, locked, `Import ${file}`, { op: "several", operations });
  return { mic, version, remarks };
}

/**
 * Takes one audio file into a song: all of it or nothing. The first file of a song sets its sample rate; a file of
 * another rate, and FLAC, are kept as they are and played through a converted copy. `rate`: the song's, where its first file is not
 * to set it. `source`: its bytes, or where it lies on disk. Neither the song is locked nor a transaction open while a file is converted.
 * Errors  AppError "invalid" that names the file and what is wrong with it; "conflict" for the same file twice.
 */
export async function importAudio(
  songId: string,
  fileName: string,
  declaredBytes: number,
  source: AsyncIterable<Uint8Array> | { readonly path: string },
  rate: number | null = null,
): Promise<Imported> {
  const name = cleanName(fileName);
  if (declaredBytes > largestFile)
    throw new AppError(
      "too_large",
      `${name} has ${declaredBytes} bytes; at most ${largestFile} are taken. Nothing was changed.`,
    );
  const rateOf = ({ document: { mics, sampleRate } }: SongRow) => (mics.length === 0 ? rate : sampleRate);
  /** Files that nobody needs when it goes wrong. */
  const loose: string[] = [];
  try {
    const { stored, incoming } =
      "path" in source
        ? await storeOnThread({ name, bytes: declaredBytes, path: source.path })
        : await storeIncoming(name, declaredBytes, source);
    loose.push(stored.id);
    for (;;) {
      const seen = await findSong(pool(), songId);
      if (!seen) throw songGone();
      await checkRoom(pool(), seen, name, stored);
      const wanted = rateOf(seen);
      const came = await playable(name, stored, incoming, wanted);
      if (came.played.stored.id !== stored.id) loose.push(came.played.stored.id);
      const imported = await inTransaction(async (db) => {
        const row = await lockSong(db, songId);
        if (!row) throw songGone();
        await checkRoom(db, row, name, stored);
        const now = rateOf(row);
        // Another file may have set the song's rate meanwhile: then it is converted anew.
        const fits = now === wanted || (wanted === null && now === came.sampleRate);
        return fits ? addMic(db, row, name, stored, came, now ?? came.sampleRate) : null;
      });
      if (imported) return imported;
    }
  } catch (error) {
    await deleteUnused(pool(), loose).catch(() => {}); // else the sweep has them
    if (error instanceof AudioFileError)
      throw new AppError("invalid", `${name} ${error.message}. It was left out; everything else is safe.`);
    throw error;
  }
}

/** Adds a mic, settles labels, starts and buses anew, and makes sections of its markers when the song has none. */
function takeMic(song: Song, mic: Mic, markers: readonly Marker[]): Operation[] {
  const mics = [...song.mics, mic];
  const taken: Operation[] = [
    { op: "addMics", mics: [mic] },
    ...settleLabels(mics),
    ...placeMics(mics, song.sampleRate),
  ];
  const operations = [...taken, ...routeByLabel(song, applyAll(song, taken))];
  if (markers.length === 0 || song.sections.length > 0) return operations;
  const { frames, mics: settled } = applyAll(song, operations);
  const { start } = settled.find((m) => m.id === mic.id)!;
  const places = markers.map((m) => ({ ...m, frame: m.frame + start }));
  const sections = sectionsOf(places, frames, song.sampleRate);
  return [...operations, { op: "setSong", values: { sections } }];
}

/** What a new name tells about the labels of others ("Kick" beside "Kick out"); labels set by hand are left alone. */
function settleLabels(mics: readonly Mic[]): Operation[] {
  const labels = guessLabels(mics);
  return mics.flatMap((m, i): Operation[] => {
    const { piece, place, sure } = labels[i]!;
    if (m.sure >= 1 || (m.piece === piece && m.place === place)) return [];
    return [
      ...followLabel(m, { piece, place }),
      { op: "setMic" as const, mic: m.id, values: { piece, place, sure } },
    ];
  });
}

/** An id for one more mic. */
export const nextMicId = (mics: readonly Mic[]): string =>
  `m${mics.reduce((most, m) => Math.max(most, Number(m.id.slice(1)) || 0), 0) + 1}`;
