import { isAiff, readAiffHeader, readAiffMarkers } from "./aiff";
import type { Audio, AudioInfo, Marker } from "./audioInfo";
import { decodeFrames } from "./decodeFrames";
import { AudioFileError, checkNumbers } from "./sampleFormat";
import { isWav, readWavHeader, readWavMarkers } from "./wav";

/** True for a FLAC stream, which must be decoded as a whole (RFC 9639, section 8). */
export const isFlac = (head: Uint8Array): boolean =>
  head.length >= 4 && head[0] === 0x66 && head[1] === 0x4c && head[2] === 0x61 && head[3] === 0x43;

/**
 * Reads the header of a file of uncompressed audio, whatever its name says.
 * Shape   head: the first bytes of the file, at least up to the audio; fileBytes: length of the whole file.
 * Errors  AudioFileError in words that follow the file's name ("Kick.wav ... ends too early").
 */
export function readAudioHeader(head: Uint8Array, fileBytes: number): AudioInfo {
  if (fileBytes === 0) throw new AudioFileError("is empty (0 bytes)");
  if (isWav(head)) return readWavHeader(head, fileBytes);
  if (isAiff(head)) return readAiffHeader(head, fileBytes);
  if (head.length < 12) throw new AudioFileError("is too short to be an audio file");
  throw new AudioFileError("is no WAV, AIFF or FLAC file, whatever its name says");
}

/**
 * Markers of a file, in order; what cannot be read is passed over.
 * Shape   parts: stretches of the file that begin at a chunk: what lies before the audio, what lies behind it.
 */
export const readMarkers = (head: Uint8Array, parts: readonly Uint8Array[]): Marker[] =>
  (isAiff(head) ? readAiffMarkers(parts) : readWavMarkers(parts)).sort((a, b) => a.frame - b.frame);

/** Where the chunks behind the audio begin. */
export const behindAudio = (info: AudioInfo): number => {
  const end = info.dataStart + info.frames * info.frameBytes;
  return end + (end % 2);
};

/**
 * Reads a whole WAV or AIFF file.
 * Errors  AudioFileError, also for samples that are not numbers.
 */
export function readAudio(bytes: Uint8Array): Audio & { info: AudioInfo; markers: Marker[] } {
  const info = readAudioHeader(bytes, bytes.length);
  const channels = Array.from({ length: info.channels }, () => new Float32Array(info.frames));
  decodeFrames(bytes.subarray(info.dataStart), info, info.frames, channels);
  checkNumbers(info.sampleFormat, channels, 0);
  const parts = [bytes.subarray(12, info.dataStart), bytes.subarray(behindAudio(info))];
  return { sampleRate: info.sampleRate, channels, info, markers: readMarkers(bytes, parts) };
}
