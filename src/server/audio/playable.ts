import { readAudioHeader } from "../../core/file/audioFile";
import type { AudioInfo } from "../../core/file/audioInfo";
import { decodeFrames } from "../../core/file/decodeFrames";
import { WholeFrames } from "../../core/file/wholeFrames";
import { AudioFileError } from "../../core/file/sampleFormat";
import { encodeFrames, wavHeader, type WriteFormat } from "../../core/file/wavWrite";
import { randomSource } from "../../core/signal/random";
import { pieceFrames, type Samples } from "../../core/signal/samples";
import { gainToDb } from "../../core/signal/level";
import { respeeded } from "../../core/signal/respeed";
import { inTransaction, pool, type Db } from "../db/pool";
import { insertAudio, linkAudio, type AudioRow } from "../db/queries/audio";
import { decodeFlacFile, resample, resampledPieces } from "./convert";
import { largestFlac } from "./flacDecoder";
import { keepAudio } from "./keptAudio";
import { LargestSample } from "./largestSample";
import { framesAt } from "./resample";
import { readRange, storeFile, streamFile, type StoredFile } from "./store";
import { uploadsFolder } from "./uploadsFolder";

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
  channels: readonly Samples[],
  sampleRate: number,
  format: WriteFormat,
): Promise<Playable> {
  const frames = channels[0]!.length;
  const head = wavHeader(format, channels.length, sampleRate, frames);
  const largest = new LargestSample();
  async function* pieces() {
    yield head;
    for (let at = 0; at < frames; at += pieceFrames) {
      const count = Math.min(pieceFrames, frames - at);
      const piece = channels.map((x) => x.subarray(at, at + count));
      largest.add(piece, count);
      yield encodeFrames(piece, format, 0, count, randomSource(1));
    }
  }
  const stored = await storeFile(db, name, "audio/wav", pieces());
  return { stored, info: readAudioHeader(head, stored.byteLength), peak: largest.peak };
}

/** How audio lies in a stored file. */
type Layout = Pick<AudioInfo, "sampleFormat" | "channels" | "frameBytes" | "dataStart" | "frames">;

/** Frames of a stored file, decoded, a piece after another. */
async function* decodedPieces(fileId: string, layout: Layout): AsyncGenerator<readonly Float32Array[]> {
  const { dataStart, frameBytes, frames, channels } = layout;
  const end = dataStart + frames * frameBytes;
  const whole = new WholeFrames(frameBytes);
  for await (const bytes of streamFile(pool(), { id: fileId, byteLength: end }, dataStart)) {
    const decoded: Float32Array[][] = [];
    whole.take(bytes, (b, count) => {
      decoded.push(Array.from({ length: channels }, () => new Float32Array(count)));
      decodeFrames(b, layout, count, decoded.at(-1)!);
    });
    yield* decoded;
  }
}

/** A plain file at another rate, converted a piece after another; no transaction is open meanwhile. */
export async function convertedCopy(
  name: string,
  file: StoredFile,
  info: AudioInfo,
  sampleRate: number,
): Promise<Playable> {
  const { channels } = info;
  const frames = framesAt(info.frames, info.sampleRate, sampleRate);
  const kept = await keepAudio(channels, frames, uploadsFolder());
  try {
    const pieces = decodedPieces(file.id, info);
    for await (const piece of resampledPieces(pieces, channels, info.sampleRate, sampleRate))
      kept.take(piece);
    kept.end();
    return await inTransaction((db) => storeCopy(db, name, kept.channels, sampleRate, "wav32f"));
  } finally {
    await kept.close();
  }
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
 * A copy of an audio without the drift of its recorder: read faster by ppm millionths (respeeded). The original stays.
 * Returns the copy's id and length in frames.
 */
export async function addCorrectedCopy(
  db: Db,
  songId: string,
  audio: AudioRow,
  name: string,
  ppm: number,
): Promise<{ audioId: string; frames: number }> {
  const kept = await keepAudio(audio.channels, audio.frames, uploadsFolder());
  try {
    for await (const piece of decodedPieces(audio.fileId, audio)) kept.take(piece);
    kept.end();
    const corrected = kept.channels.map((x) => respeeded(x, ppm));
    const copy = await storeCopy(db, name, corrected, audio.sampleRate, "wav32f");
    const { originalFileId, sampleRate, convertedFrom } = audio;
    const audioId = await addAudio(db, songId, originalFileId, copy, sampleRate, convertedFrom);
    return { audioId, frames: copy.info.frames };
  } finally {
    await kept.close();
  }
}
