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
  const promised = streamInfo(bytes);
  const head = endless(bytes);
  let at = 0;
  let done = 0;
  let damage: string | null = null;
  let info: FlacInfo | null = null;
  let blocks: Float32Array[][] = [];
  const read = (wanted: number) => {
    const buffer = bytes.slice(at, at + wanted);
    if (at < head.length) buffer.set(head.subarray(at, at + buffer.length));
    at += buffer.length;
    return { buffer, readDataLength: buffer.length, error: false };
  };
  const status = Flac.init_decoder_stream(
    decoder,
    read,
    (data, { channels, sampleRate, bitsPerSample: bits, blocksize }) => {
      info ??= promised ?? { channels, sampleRate, bits };
      if (info.channels !== channels || info.sampleRate !== sampleRate || info.bits !== bits)
        damage ??= `is ${told({ channels, sampleRate, bits })} at frame ${done}, where its head says ${told(info)}`;
      else blocks.push(data.map((x) => toFloats(x, x.length / blocksize, bits)));
    },
    (_, what) =>
      (damage ??= `is damaged at frame ${done} (${String(what)
        .toLowerCase()
        .replace(/^.*status_/, "")
        .replace(/_/g, " ")})`),
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
    // More than is promised is all taken, as by the reference decoder: the checksum tells whether it belongs there.
    if (promised && promised.frames > done)
      throw new AudioFileError(`ends too early: ${promised.frames} frames are promised, ${done} are there`);
    if (done === 0) throw new AudioFileError("holds no audio (0 frames)");
    if (!Flac.FLAC__stream_decoder_finish(decoder))
      throw new AudioFileError("is damaged: its checksum does not fit the audio");
  } finally {
    Flac.FLAC__stream_decoder_delete(decoder);
  }
}

/** Decodes a whole FLAC file of at most `longest` seconds. Errors  as decodeFlac. */
export function readFlac(bytes: Uint8Array, longest = longestFlac): FlacInfo & { audio: Float32Array[] } {
  const parts: Float32Array[][] = [];
  let info: FlacInfo | null = null;
  let frames = 0;
  const promised = streamInfo(bytes);
  if (promised) checkLength(promised.frames, promised.sampleRate, longest);
  for (const block of decodeFlac(bytes)) {
    info = block.info;
    frames += block.channels[0]!.length;
    checkLength(frames, info.sampleRate, longest);
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
const longestFlac = 2 * 3600;

function checkLength(frames: number, sampleRate: number, longest: number): void {
  if (sampleRate <= 0 || frames <= longest * sampleRate) return;
  const told = longest < 3600 ? `${longest} s` : `${longest / 3600} hours`;
  throw new AudioFileError(`is longer than ${told}; so much is taken as WAV or AIFF only`);
}

/** Where STREAMINFO ends, and where it tells the number of frames. Source  RFC 9639, section 8.2. */
const headEnd = 42;
const framesAt = 21;

/** What the head of a stream says; null where it says nothing. `frames` 0: not told. Source  RFC 9639, section 8.2. */
function streamInfo(bytes: Uint8Array): (FlacInfo & { readonly frames: number }) | null {
  if (bytes.length < headEnd || (bytes[4]! & 127) !== 0) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return {
    sampleRate: view.getUint32(18) >>> 12,
    channels: ((bytes[20]! >> 1) & 7) + 1,
    bits: (((bytes[20]! & 1) << 4) | (bytes[framesAt]! >> 4)) + 1,
    frames: (bytes[framesAt]! & 15) * 2 ** 32 + view.getUint32(framesAt + 1),
  };
}
/** The head without the number of frames: libFLAC would stop in the middle of what is more than that. */
function endless(bytes: Uint8Array): Uint8Array {
  const head = bytes.slice(0, headEnd);
  if (!streamInfo(bytes)) return head;
  head[framesAt]! &= 0xf0;
  head.fill(0, framesAt + 1, framesAt + 5);
  return head;
}
const told = ({ channels, sampleRate, bits }: FlacInfo): string =>
  `${sampleRate} Hz, ${bits} bits and ${channels} ${channels === 1 ? "channel" : "channels"}`;

/** Largest FLAC file that is taken, bytes: it is decoded in memory. */
export const largestFlac = 1024 ** 3;
