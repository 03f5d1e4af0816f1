/** What is wrong with a file, in words for its owner. */
export class AudioFileError extends Error {
  override readonly name = "AudioFileError";
}

/** How one sample lies in a file; "be": high byte first, as in AIFF; "pcm8s": 8 bit with a sign. */
export type SampleFormat =
  | "pcm8"
  | "pcm8s"
  | "pcm16"
  | "pcm24"
  | "pcm32"
  | "float32"
  | "float64"
  | "pcm16be"
  | "pcm24be"
  | "pcm32be"
  | "float32be"
  | "float64be";

/** Bytes of one sample. */
export const bytesOf: Record<SampleFormat, number> = {
  pcm8: 1,
  pcm8s: 1,
  pcm16: 2,
  pcm24: 3,
  pcm32: 4,
  float32: 4,
  float64: 8,
  pcm16be: 2,
  pcm24be: 3,
  pcm32be: 4,
  float32be: 4,
  float64be: 8,
};

/** Floats as they lie in memory, which is little-endian wherever this runs; copied only where they lie askew. */
function floatsIn(bytes: Uint8Array, count: number): Float32Array {
  const even = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes.subarray(0, 4 * count));
  return new Float32Array(even.buffer, even.byteOffset, count);
}

/**
 * Turns the bytes of whole frames into floats, full scale 1.
 * Shape   bytes: count * frameBytes from the data chunk; out: one array per channel, written from `to` on.
 */
export function decodeFrames(
  bytes: Uint8Array,
  info: { readonly sampleFormat: SampleFormat; readonly channels: number },
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
    // One loop a format: this runs over every sample that is played.
    switch (sampleFormat) {
      case "pcm8":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = (bytes[at]! - 128) / 128;
        break;
      case "pcm8s":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getInt8(at) / 128;
        break;
      case "pcm16":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at + 1]! << 24) | (bytes[at]! << 16)) >> 16) / 32768;
        break;
      case "pcm16be":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at]! << 24) | (bytes[at + 1]! << 16)) >> 16) / 32768;
        break;
      case "pcm24":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at + 2]! << 24) | (bytes[at + 1]! << 16) | (bytes[at]! << 8)) >> 8) / 8388608;
        break;
      case "pcm24be":
        for (let i = 0; i < count; i++, at += stride)
          y[to + i] = (((bytes[at]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 8)) >> 8) / 8388608;
        break;
      case "pcm32":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getInt32(at, true) / 2147483648;
        break;
      case "pcm32be":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getInt32(at, false) / 2147483648;
        break;
      case "float32": {
        const floats = floatsIn(bytes, count * channels);
        if (channels === 1) y.set(floats, to);
        else for (let i = 0, k = ch; i < count; i++, k += channels) y[to + i] = floats[k]!;
        break;
      }
      case "float32be":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getFloat32(at, false);
        break;
      case "float64":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getFloat64(at, true);
        break;
      case "float64be":
        for (let i = 0; i < count; i++, at += stride) y[to + i] = view.getFloat64(at, false);
        break;
    }
  }
}

/** Full scale so many times over is no audio: 60 dB above 0 dBFS. */
const largestSample = 1000;

/** Refuses samples that are not finite numbers, or beyond all audio; `from` is the frame at which the arrays begin. */
export function checkNumbers(channels: readonly Float32Array[], from: number, frames = Infinity): void {
  for (const x of channels) {
    const count = Math.min(frames, x.length);
    for (let i = 0; i < count; i++)
      // A number less itself is 0; what is infinite or no number is not.
      if (x[i]! - x[i]! !== 0)
        throw new AudioFileError(`has a sample that is not a number at frame ${from + i}`);
      else if (Math.abs(x[i]!) > largestSample)
        throw new AudioFileError(
          `has a sample of ${x[i]!.toExponential(1)} at frame ${from + i}, more than 60 dB over full scale: no audio`,
        );
  }
}
