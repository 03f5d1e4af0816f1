import { simulate } from "../../demo/simulate";
import { variedKit } from "../../demo/varied";
import { encodeFrames, wavHeader } from "../../src/core/file/wavWrite";
import { randomSource } from "../../src/core/signal/random";

const rate = 48000;
const format = "wav24";
/** Bytes of a chunk of the store. */
const chunkBytes = 256 * 1024;

/** A file to be sent. */
export interface Take {
  readonly name: string;
  readonly bytes: number;
  /** Bytes [from, to) of it. */
  part(from: number, to: number): Blob;
}

/** From so many mic minutes on a take repeats a stretch of whole chunks, which the store holds once: no disk holds all of it. */
const vast = 4000;
export const isVast = (mics: number, minutes: number): boolean => mics * minutes >= vast;
/** Frames of such a stretch, eight minutes: of any number of channels it fills whole chunks. */
const repeated = 88 * chunkBytes;

/** Channels repeated one after the other to a length, at a gain. */
const stretched = (channels: readonly Float32Array[], frames: number, gain: number): Float32Array[] =>
  channels.map((x) => {
    const y = new Float32Array(frames);
    for (let at = 0; at < frames; at += x.length) y.set(x.subarray(0, Math.min(x.length, frames - at)), at);
    return gain === 1 ? y : y.map((v) => gain * v);
  });

/** A WAV file of audio that is repeated to a length. */
function fileOf(name: string, channels: readonly Float32Array[], frames: number): Take {
  const header = wavHeader(format, channels.length, rate, frames);
  const audio = encodeFrames(channels, format, 0, channels[0]!.length, randomSource(1));
  const bytes = header.length + 3 * channels.length * frames;
  return {
    name,
    bytes,
    part(from, to) {
      const pieces: Uint8Array<ArrayBuffer>[] = [];
      for (let at = from; at < Math.min(bytes, to);) {
        const inAudio = (at - header.length) % audio.length;
        const [source, begin] = at < header.length ? [header, at] : [audio, inAudio];
        const piece = source.subarray(begin, begin + Math.min(bytes, to) - at);
        pieces.push(piece as Uint8Array<ArrayBuffer>);
        at += piece.length;
      }
      return new Blob(pieces);
    },
  };
}

/** Files of a kit repeated to a length; more mics than the kit has are copies at another level. */
export function* takes(mics: number, minutes: number): Generator<Take> {
  const { kit, song } = variedKit(401, 3);
  const played = simulate(kit, song, rate, 401).mics;
  const frames = minutes * 60 * rate;
  for (let i = 0; i < mics; i++) {
    const { spec, channels } = played[i % played.length]!;
    const copy = Math.floor(i / played.length);
    const made = stretched(channels, isVast(mics, minutes) ? repeated : frames, 1 - 0.13 * copy);
    yield fileOf(copy ? spec.file.replace(/\.wav$/i, ` ${copy + 1}.wav`) : spec.file, made, frames);
  }
}
