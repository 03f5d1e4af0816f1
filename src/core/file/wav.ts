import { checkFormat, type AudioInfo, type Marker } from "./audioInfo";
import { chunksOf, fourChars, textOf } from "./chunks";
import { AudioFileError, bytesOf, type SampleFormat } from "./sampleFormat";

const floatSubformat = 3;
/** Frames since midnight that can be true: a week, for recorders that run on. */
const longestDaySeconds = 7 * 86400;

const viewOf = (x: Uint8Array) => new DataView(x.buffer, x.byteOffset, x.byteLength);

/** True for the three kinds of WAV file. */
export const isWav = (head: Uint8Array): boolean =>
  head.length >= 12 &&
  ["RIFF", "RF64", "BW64"].includes(fourChars(viewOf(head), 0)) &&
  fourChars(viewOf(head), 8) === "WAVE";

function sampleFormatOf(tag: number, bits: number): SampleFormat {
  // Odd widths such as 20 bit lie in the next whole number of bytes, from the top.
  const width = 8 * Math.ceil(bits / 8);
  if (tag === 1 && (width === 8 || width === 16 || width === 24 || width === 32)) return `pcm${width}`;
  if (tag === floatSubformat && (bits === 32 || bits === 64)) return `float${bits}`;
  throw new AudioFileError(
    `holds audio of kind ${tag} with ${bits} bits; readable: 8 to 32 bit integer, 32/64 bit float`,
  );
}

type Format = Pick<AudioInfo, "sampleFormat" | "channels" | "sampleRate" | "frameBytes">;

function readFormat(view: DataView): Format {
  if (view.byteLength < 16) throw new AudioFileError("has a format chunk that is too short");
  let tag = view.getUint16(0, true);
  const channels = view.getUint16(2, true);
  const sampleRate = view.getUint32(4, true);
  const frameBytes = view.getUint16(12, true);
  const bits = view.getUint16(14, true);
  if (tag === 0xfffe) {
    if (view.byteLength < 40) throw new AudioFileError("has an extensible format chunk that is too short");
    tag = view.getUint16(24, true);
  }
  const sampleFormat = sampleFormatOf(tag, bits);
  checkFormat({ channels, sampleRate });
  if (frameBytes !== channels * bytesOf[sampleFormat])
    throw new AudioFileError(
      `says ${frameBytes} bytes a frame, but ${channels} x ${bits} bit make ${channels * bytesOf[sampleFormat]}`,
    );
  return { sampleFormat, channels, sampleRate, frameBytes };
}

/** Length of the audio in bytes: what the chunk says, what ds64 says, or what is left of the file. */
function audioBytes(size: number, longSize: number | null, rest: number): { bytes: number; told: boolean } {
  if (longSize !== null && size === 0xffffffff) return { bytes: longSize, told: true };
  if (size === 0xffffffff || (size === 0 && rest > 0)) return { bytes: rest, told: false };
  return { bytes: size, told: true };
}

/**
 * Reads the header of a WAV, RF64 or BW64 file.
 * Shape   head: the first bytes of the file, at least up to the data chunk; fileBytes: length of the whole file.
 * Errors  AudioFileError in words that follow the file's name ("Kick.wav ... ends too early").
 * Source  EBU Tech 3285 (broadcast extension), EBU Tech 3306 and ITU-R BS.2088 (64-bit sizes).
 */
export function readWavHeader(head: Uint8Array, fileBytes: number): AudioInfo {
  const remarks: string[] = [];
  const view = viewOf(head);
  const riffSize = view.getUint32(4, true);
  if (fourChars(view, 0) === "RIFF" && riffSize + 8 !== fileBytes && riffSize + 8 !== fileBytes - 1)
    remarks.push(
      `the header says ${riffSize + 8} bytes, the file has ${fileBytes}; the audio chunk was trusted`,
    );
  let format: Format | null = null;
  let timeReference: number | null = null;
  let longData: number | null = null;
  let end = 12;
  for (const { id, body, size, at } of chunksOf(head.subarray(12), true)) {
    const dataStart = 12 + at;
    if (id === "data") {
      if (!format) throw new AudioFileError("has audio before its format is told");
      const { bytes, told } = audioBytes(size, longData, fileBytes - dataStart);
      if (!told) remarks.push("the length of the audio is not told; all that follows was taken");
      const frames = Math.floor(bytes / format.frameBytes);
      if (dataStart + bytes > fileBytes) {
        const held = Math.floor((fileBytes - dataStart) / format.frameBytes);
        throw new AudioFileError(`ends too early: ${frames} frames are promised, ${held} are there`);
      }
      if (frames === 0) throw new AudioFileError("holds no audio (0 frames)");
      if (timeReference !== null && timeReference > longestDaySeconds * format.sampleRate) {
        remarks.push("its time reference lies beyond a week and was passed over");
        timeReference = null;
      }
      return { ...format, dataStart, frames, timeReference, remarks };
    }
    if (body.byteLength < size) break;
    if (id === "fmt ") format = readFormat(body);
    else if (id === "ds64" && size >= 24) longData = Number(body.getBigUint64(8, true));
    else if (id === "bext" && size >= 346) timeReference = Number(body.getBigUint64(338, true));
    end = dataStart + size;
  }
  throw new AudioFileError(
    end >= fileBytes ? "holds no audio chunk" : "is cut off or damaged before its audio begins",
  );
}

/**
 * Cue points with their labels.
 * Source  Multimedia Programming Interface 1.0: cue chunk; labels of the list of associated data.
 */
export function readWavMarkers(parts: readonly Uint8Array[]): Marker[] {
  const frames = new Map<number, number>();
  const names = new Map<number, string>();
  for (const { id, body } of parts.flatMap((p) => [...chunksOf(p, true)])) {
    if (id === "cue ")
      for (let at = 4; at + 24 <= body.byteLength; at += 24)
        frames.set(body.getUint32(at, true), body.getUint32(at + 20, true));
    if (id !== "LIST" || body.byteLength < 4 || fourChars(body, 0) !== "adtl") continue;
    const list = new Uint8Array(body.buffer, body.byteOffset + 4, body.byteLength - 4);
    for (const { id: kind, body: label } of chunksOf(list, true))
      if (kind === "labl" && label.byteLength >= 4)
        names.set(label.getUint32(0, true), textOf(label, 4, label.byteLength - 4));
  }
  return [...frames].map(([id, frame]) => ({ frame, name: names.get(id) ?? "" }));
}
