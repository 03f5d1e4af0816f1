import { checkFormat, type AudioInfo, type Marker } from "./audioInfo";
import { chunksOf, fourChars, textOf, type Chunk } from "./chunks";
import { AudioFileError, bytesOf, type SampleFormat } from "./sampleFormat";

const viewOf = (x: Uint8Array) => new DataView(x.buffer, x.byteOffset, x.byteLength);

/** True for AIFF and AIFF-C. */
export const isAiff = (head: Uint8Array): boolean =>
  head.length >= 12 &&
  fourChars(viewOf(head), 0) === "FORM" &&
  ["AIFF", "AIFC"].includes(fourChars(viewOf(head), 8));

/** IEEE 754 80-bit extended number. Source  Motorola MC68881 manual; AIFF 1.3, appendix: sample rates. */
function extended(view: DataView, at: number): number {
  const exponent = view.getUint16(at) & 0x7fff;
  const mantissa = view.getUint32(at + 2) * 2 ** 32 + view.getUint32(at + 6);
  const value = mantissa * 2 ** (exponent - 16383 - 63);
  return view.getUint16(at) & 0x8000 ? -value : value;
}

/** Uncompressed kinds of AIFF-C. Source  AIFF-C draft 1991 ("NONE"); the others are in general use. */
function sampleFormatOf(kind: string, bits: number): SampleFormat {
  const width = 8 * Math.ceil(bits / 8);
  const big: Record<number, SampleFormat> = { 8: "pcm8s", 16: "pcm16be", 24: "pcm24be", 32: "pcm32be" };
  const little: Record<number, SampleFormat> = { 8: "pcm8s", 16: "pcm16", 24: "pcm24", 32: "pcm32" };
  const found: SampleFormat | undefined =
    kind === "NONE" || kind === "twos" || kind === "in24" || kind === "in32"
      ? big[width]
      : kind === "sowt"
        ? little[width]
        : kind === "raw " && width === 8
          ? "pcm8"
          : kind === "fl32" || kind === "FL32"
            ? "float32be"
            : kind === "fl64" || kind === "FL64"
              ? "float64be"
              : undefined;
  if (!found)
    throw new AudioFileError(
      `holds audio of kind "${kind}" with ${bits} bits; readable: uncompressed integers and floats`,
    );
  return found;
}

interface Common extends Pick<AudioInfo, "sampleFormat" | "channels" | "sampleRate" | "frameBytes"> {
  readonly promised: number;
}

function readCommon({ body, size }: Chunk, compressed: boolean): Common {
  if (size < (compressed ? 22 : 18) || body.byteLength < (compressed ? 22 : 18))
    throw new AudioFileError("has a format chunk that is too short");
  const channels = body.getUint16(0);
  const sampleFormat = sampleFormatOf(compressed ? fourChars(body, 18) : "NONE", body.getUint16(6));
  const sampleRate = Math.round(extended(body, 8));
  checkFormat({ channels, sampleRate });
  const frameBytes = channels * bytesOf[sampleFormat];
  return { sampleFormat, channels, sampleRate, frameBytes, promised: body.getUint32(2) };
}

/**
 * Reads the header of an AIFF or uncompressed AIFF-C file.
 * Shape   as readAudioHeader. Errors  AudioFileError in words that follow the file's name.
 * Source  Audio Interchange File Format 1.3, 1989; AIFF-C draft, 1991.
 */
export function readAiffHeader(head: Uint8Array, fileBytes: number): AudioInfo {
  const compressed = fourChars(viewOf(head), 8) === "AIFC";
  let common: Common | null = null;
  let end = 12;
  for (const chunk of chunksOf(head.subarray(12), false)) {
    const { id, body, size, at } = chunk;
    if (id === "SSND") {
      if (!common) throw new AudioFileError("has audio before its format is told");
      if (body.byteLength < 8) break;
      const dataStart = 12 + at + 8 + body.getUint32(0);
      const { promised, ...format } = common;
      const held = Math.max(0, Math.floor((fileBytes - dataStart) / format.frameBytes));
      const inChunk = Math.floor((size - 8 - body.getUint32(0)) / format.frameBytes);
      if (promised === 0) throw new AudioFileError("holds no audio (0 frames)");
      if (promised > held || promised > inChunk)
        throw new AudioFileError(
          `ends too early: ${promised} frames are promised, ${Math.max(0, Math.min(held, inChunk))} are there`,
        );
      return { ...format, dataStart, frames: promised, timeReference: null, remarks: [] };
    }
    if (body.byteLength < size) break;
    if (id === "COMM") common = readCommon(chunk, compressed);
    end = 12 + at + size;
  }
  throw new AudioFileError(
    end >= fileBytes ? "holds no audio chunk" : "is cut off or damaged before its audio begins",
  );
}

/** Markers of the MARK chunk. Source  AIFF 1.3, section "Marker chunk". */
export function readAiffMarkers(parts: readonly Uint8Array[]): Marker[] {
  const markers: Marker[] = [];
  for (const { id, body } of parts.flatMap((p) => [...chunksOf(p, false)])) {
    if (id !== "MARK" || body.byteLength < 2) continue;
    for (let at = 2, n = body.getUint16(0); n > 0 && at + 7 <= body.byteLength; n--) {
      const length = body.getUint8(at + 6);
      markers.push({ frame: body.getUint32(at + 2), name: textOf(body, at + 7, length) });
      at += 7 + length + ((length + 1) % 2);
    }
  }
  return markers;
}
