/** What is wrong with a file, in words for its owner. */
export class AudioFileError extends Error {
  override readonly name = "AudioFileError";
}

export type SampleFormat = "pcm8" | "pcm16" | "pcm24" | "pcm32" | "float32" | "float64";

/** Where and how the audio lies in a WAV file. */
export interface WavInfo {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly sampleRate: number;
  /** Bytes of one frame over all channels. */
  readonly frameBytes: number;
  readonly dataStart: number;
  readonly frames: number;
  /** Frames since midnight of the first frame, from a broadcast extension; null without one. */
  readonly timeReference: number | null;
  /** Oddities that were lived with, each one sentence. */
  readonly remarks: readonly string[];
}

const limits = { sampleRate: [8000, 384000], channels: [1, 2] } as const;
const floatSubformat = 3;
const bytesOf: Record<SampleFormat, number> = {
  pcm8: 1,
  pcm16: 2,
  pcm24: 3,
  pcm32: 4,
  float32: 4,
  float64: 8,
};

const text = (b: DataView, at: number): string =>
  String.fromCharCode(b.getUint8(at), b.getUint8(at + 1), b.getUint8(at + 2), b.getUint8(at + 3));

function sampleFormatOf(tag: number, bits: number): SampleFormat {
  if (tag === 1 && (bits === 8 || bits === 16 || bits === 24 || bits === 32)) return `pcm${bits}`;
  if (tag === floatSubformat && (bits === 32 || bits === 64)) return `float${bits}`;
  throw new AudioFileError(
    `holds audio of kind ${tag} with ${bits} bits; readable: 8 to 32 bit integer, 32/64 bit float`,
  );
}

interface Format {
  sampleFormat: SampleFormat;
  channels: number;
  sampleRate: number;
  frameBytes: number;
}

function readFormat(view: DataView, at: number, size: number): Format {
  if (size < 16) throw new AudioFileError("has a format chunk that is too short");
  let tag = view.getUint16(at, true);
  const channels = view.getUint16(at + 2, true);
  const sampleRate = view.getUint32(at + 4, true);
  const frameBytes = view.getUint16(at + 12, true);
  const bits = view.getUint16(at + 14, true);
  if (tag === 0xfffe) {
    if (size < 40) throw new AudioFileError("has an extensible format chunk that is too short");
    tag = view.getUint16(at + 24, true);
  }
  const sampleFormat = sampleFormatOf(tag, bits);
  if (channels < limits.channels[0] || channels > limits.channels[1])
    throw new AudioFileError(`has ${channels} channels; a mic file has 1 or 2`);
  if (sampleRate < limits.sampleRate[0] || sampleRate > limits.sampleRate[1])
    throw new AudioFileError(
      `has a sample rate of ${sampleRate} Hz; usable: ${limits.sampleRate.join(" to ")} Hz`,
    );
  if (frameBytes !== channels * bytesOf[sampleFormat])
    throw new AudioFileError(
      `says ${frameBytes} bytes a frame, but ${channels} x ${bits} bit make ${channels * bytesOf[sampleFormat]}`,
    );
  return { sampleFormat, channels, sampleRate, frameBytes };
}

/**
 * Reads the header of a WAV, RF64 or BW64 file.
 * Shape   head: the first bytes of the file, at least up to the data chunk; fileBytes: length of the whole file.
 * Errors  AudioFileError in words that follow the file's name ("Kick.wav ... ends too early").
 * Source  EBU Tech 3285 (broadcast extension), EBU Tech 3306 and ITU-R BS.2088 (64-bit sizes).
 */
export function readWavHeader(head: Uint8Array, fileBytes: number): WavInfo {
  if (fileBytes === 0) throw new AudioFileError("is empty (0 bytes)");
  if (head.length < 12) throw new AudioFileError("is too short to be a WAV file");
  const view = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const kind = text(view, 0);
  if (!["RIFF", "RF64", "BW64"].includes(kind) || text(view, 8) !== "WAVE")
    throw new AudioFileError("is not a WAV file, whatever its name says");
  const remarks: string[] = [];
  const riffSize = view.getUint32(4, true);
  if (kind === "RIFF" && riffSize + 8 !== fileBytes && riffSize + 8 !== fileBytes - 1)
    remarks.push(
      `the header says ${riffSize + 8} bytes, the file has ${fileBytes}; the audio chunk was trusted`,
    );
  let format: Format | null = null;
  let timeReference: number | null = null;
  let longData: number | null = null;
  let at = 12;
  while (at + 8 <= head.length) {
    const id = text(view, at);
    const size = view.getUint32(at + 4, true);
    const body = at + 8;
    const whole = body + size <= head.length;
    if (id === "data") {
      if (!format) throw new AudioFileError("has audio before its format is told");
      const open = size === 0xffffffff || (size === 0 && fileBytes > body);
      const wanted = longData !== null && size === 0xffffffff ? longData : open ? fileBytes - body : size;
      if (open && longData === null)
        remarks.push("the length of the audio is not told; all that follows was taken");
      if (body + wanted > fileBytes) {
        const promised = Math.floor(wanted / format.frameBytes);
        const held = Math.floor((fileBytes - body) / format.frameBytes);
        throw new AudioFileError(`ends too early: ${promised} frames are promised, ${held} are there`);
      }
      const frames = Math.floor(wanted / format.frameBytes);
      if (frames === 0) throw new AudioFileError("holds no audio (0 frames)");
      return { ...format, dataStart: body, frames, timeReference, remarks };
    }
    if (!whole) break;
    if (id === "fmt ") format = readFormat(view, body, size);
    else if (id === "ds64" && size >= 24) longData = Number(view.getBigUint64(body + 8, true));
    else if (id === "bext" && size >= 346) timeReference = Number(view.getBigUint64(body + 338, true));
    at = body + size + (size % 2);
  }
  throw new AudioFileError(
    at >= fileBytes ? "holds no audio chunk" : "is cut off or damaged before its audio begins",
  );
}

/**
 * Turns the bytes of whole frames into floats, full scale 1.
 * Shape   bytes: count * frameBytes from the data chunk; out: one array per channel, written from `to` on.
 */
export function decodeFrames(
  bytes: Uint8Array,
  info: Pick<WavInfo, "sampleFormat" | "channels">,
  count: number,
  out: readonly Float32Array[],
  to = 0,
): void {
  const { channels, sampleFormat } = info;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const step = bytesOf[sampleFormat];
  const stride = step * channels;
  for (let ch = 0; ch < channels; ch++) {
    const y = out[ch]!;
    let at = ch * step;
    switch (sampleFormat) {
      case "pcm8":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = (bytes[at]! - 128) / 128;
        break;
      case "pcm16":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at + 1]! << 24) | (bytes[at]! << 16)) >> 16) / 32768;
        break;
      case "pcm24":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at + 2]! << 24) | (bytes[at + 1]! << 16) | (bytes[at]! << 8)) >> 8) / 8388608;
        break;
      case "pcm32":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getInt32(at, true) / 2147483648;
        break;
      case "float32":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getFloat32(at, true);
        break;
      case "float64":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getFloat64(at, true);
        break;
    }
  }
}

/** A whole decoded file. */
export interface Audio {
  readonly sampleRate: number;
  readonly channels: Float32Array[];
}

/**
 * Reads a whole WAV file.
 * Errors  AudioFileError, also for samples that are not numbers.
 */
export function readWav(bytes: Uint8Array): Audio & { info: WavInfo } {
  const info = readWavHeader(bytes, bytes.length);
  const channels = Array.from({ length: info.channels }, () => new Float32Array(info.frames));
  decodeFrames(bytes.subarray(info.dataStart), info, info.frames, channels);
  checkNumbers(channels, 0);
  return { sampleRate: info.sampleRate, channels, info };
}

/** Refuses samples that are not finite numbers; `from` is the frame at which the arrays begin. */
export function checkNumbers(channels: readonly Float32Array[], from: number, frames = Infinity): void {
  for (const x of channels) {
    const count = Math.min(frames, x.length);
    for (let i = 0; i < count; i++)
      // A number less itself is 0; what is infinite or no number is not.
      if (x[i]! - x[i]! !== 0)
        throw new AudioFileError(`has a sample that is not a number at frame ${from + i}`);
  }
}

export type WriteFormat = "wav16" | "wav24" | "wav32f";
const writeBytes: Record<WriteFormat, number> = { wav16: 2, wav24: 3, wav32f: 4 };

/**
 * Header of a WAV file; RF64 when 32-bit sizes do not suffice.
 * Source  EBU Tech 3306 for the ds64 chunk; the float format carries a fact chunk as Microsoft's RIFF rules ask.
 */
export function wavHeader(
  format: WriteFormat,
  channels: number,
  sampleRate: number,
  frames: number,
): Uint8Array {
  const frameBytes = channels * writeBytes[format];
  const dataBytes = frames * frameBytes;
  const float = format === "wav32f";
  const long = dataBytes > 0xfffff000;
  const length = 12 + 36 + 24 + (float ? 12 : 0) + 8; // a JUNK chunk keeps the place of ds64
  const head = new Uint8Array(length);
  const view = new DataView(head.buffer);
  const put = (at: number, s: string) => {
    for (let i = 0; i < 4; i++) head[at + i] = s.charCodeAt(i);
  };
  const pad = dataBytes % 2;
  put(0, long ? "RF64" : "RIFF");
  view.setUint32(4, long ? 0xffffffff : length - 8 + dataBytes + pad, true);
  put(8, "WAVE");
  put(12, long ? "ds64" : "JUNK");
  view.setUint32(16, 28, true);
  if (long) {
    view.setBigUint64(20, BigInt(length - 8 + dataBytes + pad), true);
    view.setBigUint64(28, BigInt(dataBytes), true);
    view.setBigUint64(36, BigInt(frames), true);
  }
  put(48, "fmt ");
  view.setUint32(52, 16, true);
  view.setUint16(56, float ? floatSubformat : 1, true);
  view.setUint16(58, channels, true);
  view.setUint32(60, sampleRate, true);
  view.setUint32(64, sampleRate * frameBytes, true);
  view.setUint16(68, frameBytes, true);
  view.setUint16(70, 8 * writeBytes[format], true);
  let at = 72;
  if (float) {
    put(at, "fact");
    view.setUint32(at + 4, 4, true);
    view.setUint32(at + 8, Math.min(frames, 0xffffffff), true);
    at += 12;
  }
  put(at, "data");
  view.setUint32(at + 4, long ? 0xffffffff : dataBytes, true);
  return head;
}

/** Random numbers 0..1 for dither, repeatable. Source  Marsaglia's xorshift32, J. Stat. Software 8(14), 2003. */
export function randomSource(seed: number): () => number {
  let s = seed >>> 0 || 1;
  return () => {
    s ^= s << 13;
    s >>>= 0;
    s ^= s >>> 17;
    s ^= s << 5;
    s >>>= 0;
    return s / 4294967296;
  };
}

/**
 * Bytes of frames [from, from + count). 16 bit is dithered by triangular noise of two steps' width
 * (Lipshitz, Wannamaker, Vanderkooy 1992) from `random`; 24 bit is rounded; beyond full scale is clipped.
 */
export function encodeFrames(
  channels: readonly Float32Array[],
  format: WriteFormat,
  from: number,
  count: number,
  random: () => number,
): Uint8Array {
  const step = writeBytes[format];
  const bytes = new Uint8Array(count * channels.length * step);
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (let i = from; i < from + count; i++)
    for (const x of channels) {
      const v = x[i]!;
      if (format === "wav32f") view.setFloat32(at, v, true);
      else if (format === "wav16") {
        const dithered = Math.round(v * 32768 + random() - random());
        view.setInt16(at, Math.max(-32768, Math.min(32767, dithered)), true);
      } else {
        const s = Math.max(-8388608, Math.min(8388607, Math.round(v * 8388608)));
        bytes[at] = s & 255;
        bytes[at + 1] = (s >> 8) & 255;
        bytes[at + 2] = (s >> 16) & 255;
      }
      at += step;
    }
  return bytes;
}

/** A whole WAV file in memory. */
export function writeWav(audio: Audio, format: WriteFormat): Uint8Array {
  const frames = audio.channels[0]?.length ?? 0;
  const head = wavHeader(format, audio.channels.length, audio.sampleRate, frames);
  const body = encodeFrames(audio.channels, format, 0, frames, randomSource(1));
  const file = new Uint8Array(head.length + body.length + (body.length % 2));
  file.set(head);
  file.set(body, head.length);
  return file;
}
