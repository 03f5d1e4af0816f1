import type { NoiseShaper } from "./noiseShaper";
import type { Audio } from "./audioInfo";
import { randomSource } from "../signal/random";

const floatSubformat = 3;

export type WriteFormat = "wav16" | "wav24" | "wav32f";
const writeBytes: Record<WriteFormat, number> = { wav16: 2, wav24: 3, wav32f: 4 };

/** Bytes of a bext chunk of version 0 or 1 without coding history, and where in it the time of the first frame stands. */
const bextBytes = 602;
const bextTime = 338;
const originator = "Jubo";

/**
 * Header of a WAV file; RF64 when 32-bit sizes do not suffice. `timeReference`: frames since midnight of its first frame, told
 * in a bext chunk; null: none is.
 * Source  EBU Tech 3306 for the ds64 chunk, EBU Tech 3285 for bext; the float format carries a fact chunk as Microsoft's RIFF
 *         rules ask.
 */
export function wavHeader(
  format: WriteFormat,
  channels: number,
  sampleRate: number,
  frames: number,
  timeReference: number | null = null,
): Uint8Array {
  const frameBytes = channels * writeBytes[format];
  const dataBytes = frames * frameBytes;
  const float = format === "wav32f";
  const long = dataBytes > 0xfffff000;
  const bext = timeReference === null ? 0 : 8 + bextBytes;
  const length = 12 + 36 + bext + 24 + (float ? 12 : 0) + 8; // a JUNK chunk keeps the place of ds64
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
  let at = 48;
  if (timeReference !== null) {
    put(at, "bext");
    view.setUint32(at + 4, bextBytes, true);
    for (let i = 0; i < originator.length; i++) head[at + 8 + 256 + i] = originator.charCodeAt(i);
    view.setBigUint64(at + 8 + bextTime, BigInt(Math.max(0, Math.round(timeReference))), true);
    view.setUint16(at + 8 + bextTime + 8, 1, true);
    at += bext;
  }
  put(at, "fmt ");
  view.setUint32(at + 4, 16, true);
  view.setUint16(at + 8, float ? floatSubformat : 1, true);
  view.setUint16(at + 10, channels, true);
  view.setUint32(at + 12, sampleRate, true);
  view.setUint32(at + 16, sampleRate * frameBytes, true);
  view.setUint16(at + 20, frameBytes, true);
  view.setUint16(at + 22, 8 * writeBytes[format], true);
  at += 24;
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

/**
 * Bytes of frames [from, from + count). 16 bit is dithered by triangular noise of two steps' width
 * (Lipshitz, Wannamaker, Vanderkooy 1992) from `random`, moved to where it is heard least by `shaping`, one a channel; 24 bit is rounded; beyond full scale is clipped.
 */
export function encodeFrames(
  channels: readonly Float32Array[],
  format: WriteFormat,
  from: number,
  count: number,
  random: () => number,
  shaping: readonly NoiseShaper[] | null = null,
): Uint8Array {
  const step = writeBytes[format];
  const bytes = new Uint8Array(count * channels.length * step);
  const view = new DataView(bytes.buffer);
  let at = 0;
  for (let i = from; i < from + count; i++)
    for (let ch = 0; ch < channels.length; ch++) {
      const v = channels[ch]![i]!;
      if (format === "wav32f") view.setFloat32(at, v, true);
      else if (format === "wav16") {
        const noise = random() - random();
        const whole = shaping ? shaping[ch]!.next(v * 32768, noise) : Math.round(v * 32768 + noise);
        view.setInt16(at, Math.max(-32768, Math.min(32767, whole)), true);
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
