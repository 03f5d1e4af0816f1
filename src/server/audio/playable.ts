import { readAudioHeader } from "../../core/file/audioFile";
import type { AudioInfo } from "../../core/file/audioInfo";
import { decodeFrames } from "../../core/file/decodeFrames";
import { AudioFileError } from "../../core/file/sampleFormat";
import { encodeFrames, wavHeader, type WriteFormat } from "../../core/file/wavWrite";
import { randomSource } from "../../core/signal/random";
import { gainToDb } from "../../core/signal/level";
import { respeed } from "../../core/signal/respeed";
import { inTransaction, pool, type Db } from "../db/pool";
import { insertAudio, linkAudio, type AudioRow } from "../db/queries/audio";
import { decodeFlacFile, resample } from "./convert";
import { largestFlac } from "./flacDecoder";
import { LargestSample } from "./largestSample";
import { readRange, storeFile, type StoredFile } from "./store";

/** A file as it is played: the original, or a copy that can be read by range at the song's rate. */
export interface Playable {
  readonly stored: StoredFile;
  readonly info: AudioInfo;
  /** Largest magnitude, linear. */
  readonly peak: number;
}

/** Stores a copy of decoded audio for playback. */
export async function storeCopy(
  db: Db,
  name: string,
  channels: readonly Float32Array[],
  sampleRate: number,
  format: WriteFormat,
): Promise<Playable> {
  const frames = channels[0]!.length;
  const head = wavHeader(format, channels.length, sampleRate, frames);
  async function* pieces() {
    yield head;
    for (let at = 0; at < frames; at += 65536)
      yield encodeFrames(channels, format, at, Math.min(65536, frames - at), randomSource(1));
  }
  const stored = await storeFile(db, name, "audio/wav", pieces());
  const largest = new LargestSample();
  largest.add(channels, frames);
  return { stored, info: readAudioHeader(head, stored.byteLength), peak: largest.peak };
}

/** A plain file at another rate, converted; no transaction is open meanwhile. */
export async function convertedCopy(
  name: string,
  file: StoredFile,
  info: AudioInfo,
  sampleRate: number,
): Promise<Playable> {
  const bytes = await readRange(
    pool(),
    file.id,
    info.dataStart,
    info.dataStart + info.frames * info.frameBytes,
  );
  const channels = Array.from({ length: info.channels }, () => new Float32Array(info.frames));
  decodeFrames(bytes, info, info.frames, channels);
  const converted = await resample(channels, info.sampleRate, sampleRate);
  return inTransaction((db) => storeCopy(db, name, converted, sampleRate, "wav32f"));
}

/**
 * A FLAC file decoded, and converted when it is not at the song's rate (null: the song takes this one's); no transaction is open meanwhile.
 * Errors  AudioFileError.
 */
export async function decodedCopy(
  name: string,
  file: StoredFile,
  songRate: number | null,
): Promise<{ played: Playable; sampleRate: number }> {
  if (file.byteLength > largestFlac)
    throw new AudioFileError(`has ${file.byteLength} bytes; FLAC files are taken up to ${largestFlac}`);
  const { audio, sampleRate, bits } = await decodeFlacFile(
    await readRange(pool(), file.id, 0, file.byteLength),
  );
  const rate = songRate ?? sampleRate;
  const channels = await resample(audio, sampleRate, rate);
  const exact = rate === sampleRate && bits <= 24;
  const format = exact ? "wav24" : "wav32f";
  return { played: await inTransaction((db) => storeCopy(db, name, channels, rate, format)), sampleRate };
}

/** Notes a playable file as audio of a song with its largest sample. Returns the audio's id. */
export async function addAudio(
  db: Db,
  songId: string,
  originalFileId: string,
  { stored, info, peak }: Playable,
  sampleRate: number,
  convertedFrom: number | null,
): Promise<string> {
  const { sampleFormat, channels, frameBytes, dataStart, frames } = info;
  const peakDbfs = gainToDb(peak);
  const layout = { sampleFormat, channels, sampleRate, frameBytes, dataStart, frames };
  const id = await insertAudio(db, { originalFileId, fileId: stored.id, ...layout, convertedFrom, peakDbfs });
  await linkAudio(db, songId, id);
  return id;
}

/**
 * A copy of an audio without the drift of its recorder: read faster by ppm millionths (respeed). The original stays.
 * Returns the copy's id and length in frames.
 */
export async function addCorrectedCopy(
  db: Db,
  songId: string,
  audio: AudioRow,
  name: string,
  ppm: number,
): Promise<{ audioId: string; frames: number }> {
  const { fileId, dataStart, frames, frameBytes, channels, sampleRate } = audio;
  const decoded = Array.from({ length: channels }, () => new Float32Array(frames));
  decodeFrames(
    await readRange(db, fileId, dataStart, dataStart + frames * frameBytes),
    audio,
    frames,
    decoded,
  );
  const corrected = decoded.map((x) => respeed(x, ppm));
  const copy = await storeCopy(db, name, corrected, sampleRate, "wav32f");
  const audioId = await addAudio(db, songId, audio.originalFileId, copy, sampleRate, audio.convertedFrom);
  return { audioId, frames: copy.info.frames };
}
