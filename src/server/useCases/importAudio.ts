import {
  AudioFileError,
  checkNumbers,
  decodeFrames,
  encodeFrames,
  randomSource,
  readWavHeader,
  wavHeader,
  type WavInfo,
} from "../../core/file/wav";
import { guessLabels } from "../../core/gather/labels";
import { gainToDb } from "../../core/signal/level";
import { newMic } from "../../core/song/create";
import type { Mic } from "../../core/song/song";
import { PeakGatherer, peakLevels } from "../audio/peaks";
import { resample } from "../audio/resample";
import { readRange, storeFile, type StoredFile } from "../audio/store";
import { inTransaction, type Db } from "../db/pool";
import { findSongAudioByHash, insertAudio, insertPeaks, linkAudio } from "../db/queries/audio";
import { lockSong } from "../db/queries/song";
import { AppError } from "../errors";
import { changeLocked } from "./editSong";

/** Largest file that is taken, bytes. */
export const largestFile = 8 * 1024 ** 3;
/** Most mics a song may have. */
export const mostMics = 64;
/** Bytes that must hold all that comes before the audio. */
const headBytes = 256 * 1024;

/** Follows the bytes of a WAV file as they come in: reads the header, checks every sample, gathers peaks. */
class WavWatcher {
  info: WavInfo | null = null;
  peaks: PeakGatherer | null = null;
  private rest = Buffer.alloc(0);
  private frames = 0;

  constructor(private readonly declaredBytes: number) {}

  readonly watch = (chunk: Buffer, byteStart: number): void => {
    if (!this.info) {
      if (byteStart > 0) return;
      this.info = readWavHeader(chunk.subarray(0, headBytes), this.declaredBytes);
      this.peaks = new PeakGatherer(this.info.channels);
    }
    const { dataStart, frameBytes, channels, frames } = this.info;
    const skip = Math.max(0, dataStart - byteStart);
    if (skip >= chunk.length) return;
    const bytes =
      this.rest.length > 0 ? Buffer.concat([this.rest, chunk.subarray(skip)]) : chunk.subarray(skip);
    const whole = Math.min(Math.floor(bytes.length / frameBytes), frames - this.frames);
    const audio = Array.from({ length: channels }, () => new Float32Array(whole));
    decodeFrames(bytes, this.info, whole, audio);
    checkNumbers(audio, this.frames);
    this.peaks!.add(audio, whole);
    this.frames += whole;
    this.rest = Buffer.from(bytes.subarray(whole * frameBytes));
  };

  finish(byteLength: number): { info: WavInfo; peaks: PeakGatherer } {
    if (byteLength === 0) throw new AudioFileError("is empty (0 bytes)");
    if (!this.info || !this.peaks) throw new AudioFileError("is no readable WAV file");
    if (this.frames < this.info.frames)
      throw new AudioFileError(
        `ends too early: ${this.info.frames} frames are promised, ${this.frames} are there`,
      );
    this.peaks.close();
    return { info: this.info, peaks: this.peaks };
  }
}

/** Name of a file without folders and control characters, never empty, 200 characters at most. */
export const cleanName = (name: string): string =>
  name.replace(/^.*[\\/]/, "").replace(/\p{Cc}/gu, "").trim().slice(-200) || "unnamed.wav"; // prettier-ignore

async function convert(db: Db, name: string, file: StoredFile, info: WavInfo, sampleRate: number) {
  const bytes = await readRange(db, file.id, info.dataStart, info.dataStart + info.frames * info.frameBytes);
  const channels = Array.from({ length: info.channels }, () => new Float32Array(info.frames));
  decodeFrames(bytes, info, info.frames, channels);
  const converted = await resample(channels, info.sampleRate, sampleRate);
  const frames = converted[0]!.length;
  const head = wavHeader("wav32f", info.channels, sampleRate, frames);
  async function* pieces() {
    yield head;
    for (let at = 0; at < frames; at += 65536)
      yield encodeFrames(converted, "wav32f", at, Math.min(65536, frames - at), randomSource(1));
  }
  const stored = await storeFile(db, name, "audio/wav", pieces());
  const peaks = new PeakGatherer(info.channels);
  peaks.add(converted, frames);
  peaks.close();
  return { stored, info: readWavHeader(head, stored.byteLength), peaks };
}

export interface Imported {
  mic: Mic;
  version: number;
  remarks: string[];
}

/**
 * Takes one WAV file into a song: all of it or nothing. The first file of a song sets its sample rate; a file of
 * another rate is kept as it is and played through a converted copy.
 * Errors  AppError "invalid" that names the file and what is wrong with it; "conflict" for the same file twice.
 */
export async function importAudio(
  songId: string,
  fileName: string,
  declaredBytes: number,
  source: AsyncIterable<Uint8Array>,
): Promise<Imported> {
  const name = cleanName(fileName);
  if (declaredBytes > largestFile)
    throw new AppError(
      "too_large",
      `${name} has ${declaredBytes} bytes; at most ${largestFile} are taken. Nothing was changed.`,
    );
  const watcher = new WavWatcher(declaredBytes);
  try {
    return await inTransaction(async (db) => {
      const stored = await storeFile(db, name, "audio/wav", source, watcher.watch);
      if (stored.byteLength !== declaredBytes)
        throw new AudioFileError(`broke off after ${stored.byteLength} of ${declaredBytes} bytes`);
      const { info, peaks } = watcher.finish(stored.byteLength);
      // The song is locked only now, so that files can come in side by side.
      const row = await lockSong(db, songId);
      if (!row) throw new AppError("not_found", "This song does not exist any more.");
      const song = row.document;
      if (song.mics.length >= mostMics)
        throw new AppError("invalid", `A song holds at most ${mostMics} mics; ${name} was left out.`);
      const twin = await findSongAudioByHash(db, songId, stored.sha256);
      if (twin) throw new AppError("conflict", `${name} holds the same audio as ${twin}; it was left out.`);
      const remarks = [...info.remarks];
      const sampleRate = song.mics.length === 0 ? info.sampleRate : song.sampleRate;
      let played = { stored, info, peaks };
      if (info.sampleRate !== sampleRate) {
        played = await convert(db, name, stored, info, sampleRate);
        remarks.push(`converted from ${info.sampleRate} to ${sampleRate} Hz`);
      }
      const peakDbfs = gainToDb(played.peaks.peak);
      const audioId = await insertAudio(db, {
        originalFileId: stored.id,
        fileId: played.stored.id,
        sampleFormat: played.info.sampleFormat,
        channels: info.channels,
        sampleRate,
        frameBytes: played.info.frameBytes,
        dataStart: played.info.dataStart,
        frames: played.info.frames,
        convertedFrom: info.sampleRate === sampleRate ? null : info.sampleRate,
        peakDbfs,
      });
      for (const [level, framesPerPeak] of peakLevels.entries())
        await insertPeaks(db, audioId, framesPerPeak, played.peaks.level(level));
      await linkAudio(db, songId, audioId);
      const file = uniqueName(
        name,
        song.mics.map((m) => m.file),
      );
      const [label] = guessLabels([{ file, channels: info.channels }]);
      const mic: Mic = {
        ...newMic({
          id: nextMicId(song.mics),
          file,
          audio: audioId,
          channels: info.channels,
          frames: played.info.frames,
          ...label!,
        }),
        peakDbfs,
      };
      const settled = settleLabels([...song.mics, mic]);
      const version = await changeLocked(
        db,
        { ...row, document: { ...song, sampleRate } },
        `Import ${file}`,
        {
          op: "several",
          operations: [{ op: "addMics", mics: [mic] }, ...settled],
        },
      );
      return { mic, version, remarks };
    });
  } catch (error) {
    if (error instanceof AudioFileError)
      throw new AppError("invalid", `${name} ${error.message}. It was left out; everything else is safe.`);
    throw error;
  }
}

/** What a new name tells about the labels of others ("Kick" beside "Kick out"); labels set by hand are left alone. */
function settleLabels(mics: readonly Mic[]) {
  const labels = guessLabels(mics);
  return mics.flatMap((m, i) => {
    const { piece, place, sure } = labels[i]!;
    if (m.sure >= 1 || (m.piece === piece && m.place === place)) return [];
    return [{ op: "setMic" as const, mic: m.id, values: { piece, place, sure } }];
  });
}

const nextMicId = (mics: readonly Mic[]): string =>
  `m${mics.reduce((most, m) => Math.max(most, Number(m.id.slice(1)) || 0), 0) + 1}`;

function uniqueName(name: string, taken: readonly string[]): string {
  if (!taken.includes(name)) return name;
  const [, stem, ending] = /^(.*?)(\.[^.]*)?$/s.exec(name)!;
  for (let n = 2; ; n++) {
    const next = `${stem} (${n})${ending ?? ""}`;
    if (!taken.includes(next)) return next;
  }
}
