import Flac from "libflacjs/dist/libflac.js";

import { AudioFileError } from "../../core/file/sampleFormat";
import { checkFormat } from "../../core/file/audioInfo";

/** What a FLAC stream says of itself. */
export interface FlacInfo {
  readonly channels: number;
  readonly sampleRate: number;
  readonly bits: number;
}

/** Samples of one channel of a block: signed integers of a width in bytes, low byte first. */
function toFloats(bytes: Uint8Array, width: number, bits: number): Float32Array {
  const out = new Float32Array(bytes.length / width);
  const scale = 2 ** -(bits - 1);
  const unused = 32 - 8 * width;
  for (let i = 0, at = 0; i < out.length; i++) {
    let v = 0;
    for (let b = 0; b < width; b++) v |= bytes[at++]! << (8 * b);
    out[i] = ((v << unused) >> unused) * scale;
  }
  return out;
}

/**
 * Decodes a FLAC stream (RFC 9639) with the libflac package, block by block, up to 24 bits exactly; the checksum over
 * the whole is compared at the end.
 * Errors  AudioFileError in words that follow the file's name.
 */
export function* decodeFlac(bytes: Uint8Array): Generator<{ info: FlacInfo; channels: Float32Array[] }> {
  const decoder = Flac.create_libflac_decoder(true);
  let at = 0;
  let done = 0;
  let damage: string | null = null;
  let info: FlacInfo | null = null;
  let blocks: Float32Array[][] = [];
  const read = (wanted: number) => {
    const buffer = bytes.slice(at, at + wanted);
    at += buffer.length;
    return { buffer, readDataLength: buffer.length, error: false };
  };
  const status = Flac.init_decoder_stream(
    decoder,
    read,
    (data, { channels, sampleRate, bitsPerSample: bits, blocksize }) => {
      info ??= { channels, sampleRate, bits };
      if (info.channels !== channels || info.sampleRate !== sampleRate || info.bits !== bits)
        damage ??= `changes its format at frame ${done}`;
      else blocks.push(data.map((x) => toFloats(x, x.length / blocksize, bits)));
    },
    (_, what) => (damage ??= `is damaged at frame ${done} (${String(what).toLowerCase().replace(/^.*status_/, "").replace(/_/g, " ")})`), // prettier-ignore
  );
  try {
    if (decoder === 0 || status !== 0) throw new AudioFileError("cannot be decoded as FLAC");
    for (;;) {
      const before = at;
      const went = Flac.FLAC__stream_decoder_process_single(decoder);
      if (damage) throw new AudioFileError(damage);
      for (const channels of blocks) {
        checkFormat(info!);
        done += channels[0]!.length;
        yield { info: info!, channels };
      }
      const ended = Flac.FLAC__stream_decoder_get_state(decoder) === 4; // end of stream
      if (ended) break;
      if (!went || (at === before && blocks.length === 0 && at >= bytes.length))
        throw new AudioFileError(`is cut off or damaged at frame ${done}`);
      blocks = [];
    }
    const promised = promisedFrames(bytes);
    if (promised > 0 && promised !== done)
      throw new AudioFileError(`ends too early: ${promised} frames are promised, ${done} are there`);
    if (done === 0) throw new AudioFileError("holds no audio (0 frames)");
    if (!Flac.FLAC__stream_decoder_finish(decoder))
      throw new AudioFileError("is damaged: its checksum does not fit the audio");
  } finally {
    Flac.FLAC__stream_decoder_delete(decoder);
  }
}

/** Decodes a whole FLAC file. Errors  as decodeFlac. */
export function readFlac(bytes: Uint8Array): FlacInfo & { audio: Float32Array[] } {
  const parts: Float32Array[][] = [];
  let info: FlacInfo | null = null;
  let frames = 0;
  checkLength(promisedFrames(bytes), promisedRate(bytes));
  for (const block of decodeFlac(bytes)) {
    info = block.info;
    frames += block.channels[0]!.length;
    checkLength(frames, info.sampleRate);
    block.channels.forEach((x, ch) => (parts[ch] ??= []).push(x));
  }
  const audio = parts.map((list) => {
    const y = new Float32Array(list.reduce((sum, x) => sum + x.length, 0));
    let at = 0;
    for (const x of list) {
      y.set(x, at);
      at += x.length;
    }
    return y;
  });
  return { ...info!, audio };
}

/** Longest recording that is taken as FLAC, s: it is unpacked in memory, and silence of days fits into some bytes. */
export const longestFlac = 2 * 3600;

function checkLength(frames: number, sampleRate: number): void {
  if (sampleRate > 0 && frames > longestFlac * sampleRate)
    throw new AudioFileError(
      `is longer than ${longestFlac / 3600} hours; so much is taken as WAV or AIFF only`,
    );
}

const hasStreamInfo = (bytes: Uint8Array): boolean => bytes.length >= 42 && (bytes[4]! & 127) === 0;
/** Sample rate that STREAMINFO tells, Hz; 0: not told. Source  RFC 9639, section 8.2. */
const promisedRate = (bytes: Uint8Array): number =>
  hasStreamInfo(bytes) ? (bytes[18]! << 12) | (bytes[19]! << 4) | (bytes[20]! >> 4) : 0;
/** Frames that STREAMINFO promises; 0: not told. Source  RFC 9639, section 8.2. */
function promisedFrames(bytes: Uint8Array): number {
  if (!hasStreamInfo(bytes)) return 0;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return (bytes[21]! & 15) * 2 ** 32 + view.getUint32(22);
}

/** Largest FLAC file that is taken, bytes: it is decoded in memory. */
export const largestFlac = 1024 ** 3;
