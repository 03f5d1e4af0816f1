import { isFlac, readAudio } from "../../core/file/audioFile";
import { flacReady } from "./flac";
import { readFlac } from "./flacDecoder";

/** A whole file as it was decoded. */
export interface Decoded {
  readonly sampleRate: number;
  readonly channels: Float32Array[];
  /** Time of day of the first frame, s. */
  readonly time: number | null;
  readonly remarks: readonly string[];
}

/** Decodes a whole WAV, AIFF or FLAC file by what it is, whatever its name. Errors  AudioFileError. */
export async function decodeFile(bytes: Uint8Array): Promise<Decoded> {
  if (isFlac(bytes)) {
    await flacReady();
    const { audio, sampleRate } = readFlac(bytes);
    return { sampleRate, channels: audio, time: null, remarks: [] };
  }
  const { sampleRate, channels, info } = readAudio(bytes);
  const time = info.timeReference === null ? null : info.timeReference / sampleRate;
  return { sampleRate, channels, time, remarks: info.remarks };
}
