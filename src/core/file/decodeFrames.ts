import { bytesOf, type SampleFormat } from "./sampleFormat";

/** Bytes, and where in them the samples of one channel lie. */
interface Interleaved {
  readonly bytes: Uint8Array;
  readonly view: DataView;
  /** Byte of the first sample, and bytes from one to the next. */
  readonly first: number;
  readonly stride: number;
  readonly count: number;
}
/** Writes samples into y from `to` on. */
type Decoder = (from: Interleaved, y: Float32Array, to: number) => void;

const [full8, full16, full24, full32] = [2 ** -7, 2 ** -15, 2 ** -23, 2 ** -31] as const;

/**
 * Samples of three bytes that follow one another, four at a time out of three words: half the time of reading every byte.
 * Where this runs memory is little-endian.
 */
function packed24(bytes: Uint8Array, count: number, y: Float32Array, to: number): void {
  const byByte = (i: number): void => {
    const at = 3 * i;
    y[to + i] = (((bytes[at + 2]! << 24) | (bytes[at + 1]! << 16) | (bytes[at]! << 8)) >> 8) * full24;
  };
  let i = 0;
  while (i < count && (bytes.byteOffset + 3 * i) % 4 !== 0) byByte(i++);
  const fours = (count - i) >> 2;
  // Where none are left, its place may lie askew.
  const words = fours > 0 ? new Int32Array(bytes.buffer, bytes.byteOffset + 3 * i, 3 * fours) : [];
  let o = to + i;
  for (let w = 0; w < words.length; w += 3, o += 4) {
    const a = words[w]!;
    const b = words[w + 1]!;
    const c = words[w + 2]!;
    y[o] = ((a << 8) >> 8) * full24;
    y[o + 1] = ((((a >>> 24) | (b << 8)) << 8) >> 8) * full24;
    y[o + 2] = ((((b >>> 16) | (c << 16)) << 8) >> 8) * full24;
    y[o + 3] = (c >> 8) * full24;
  }
  for (i += 4 * fours; i < count; i++) byByte(i);
}

/** Floats as they lie in memory; copied only where they lie askew. */
function floatsIn(bytes: Uint8Array, count: number): Float32Array {
  const even = bytes.byteOffset % 4 === 0 ? bytes : new Uint8Array(bytes.subarray(0, 4 * count));
  return new Float32Array(even.buffer, even.byteOffset, count);
}

// One loop a format: this runs over every sample that is played.
const decoders: Readonly<Record<SampleFormat, Decoder>> = {
  pcm8({ bytes, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = (bytes[at]! - 128) * full8;
  },
  pcm8s({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getInt8(at) * full8;
  },
  pcm16({ bytes, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride)
      y[to + i] = (((bytes[at + 1]! << 24) | (bytes[at]! << 16)) >> 16) * full16;
  },
  pcm16be({ bytes, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride)
      y[to + i] = (((bytes[at]! << 24) | (bytes[at + 1]! << 16)) >> 16) * full16;
  },
  pcm24({ bytes, first, stride, count }, y, to) {
    if (stride === 3) return packed24(bytes, count, y, to);
    for (let i = 0, at = first; i < count; i++, at += stride)
      y[to + i] = (((bytes[at + 2]! << 24) | (bytes[at + 1]! << 16) | (bytes[at]! << 8)) >> 8) * full24;
  },
  pcm24be({ bytes, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride)
      y[to + i] = (((bytes[at]! << 24) | (bytes[at + 1]! << 16) | (bytes[at + 2]! << 8)) >> 8) * full24;
  },
  pcm32({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getInt32(at, true) * full32;
  },
  pcm32be({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getInt32(at, false) * full32;
  },
  float32({ bytes, first, stride, count }, y, to) {
    const channels = stride / 4;
    const floats = floatsIn(bytes, count * channels);
    if (channels === 1) y.set(floats, to);
    else for (let i = 0, k = first / 4; i < count; i++, k += channels) y[to + i] = floats[k]!;
  },
  float32be({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getFloat32(at, false);
  },
  float64({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getFloat64(at, true);
  },
  float64be({ view, first, stride, count }, y, to) {
    for (let i = 0, at = first; i < count; i++, at += stride) y[to + i] = view.getFloat64(at, false);
  },
};

/**
 * Turns the bytes of whole frames into floats, full scale 1.
 * Shape   bytes: count * frameBytes from the data chunk; out: one array per channel, written from `to` on.
 */
export function decodeFrames(
  bytes: Uint8Array,
  { channels, sampleFormat }: { readonly sampleFormat: SampleFormat; readonly channels: number },
  count: number,
  out: readonly Float32Array[],
  to = 0,
): void {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const step = bytesOf[sampleFormat];
  const decode = decoders[sampleFormat];
  for (let ch = 0; ch < channels; ch++)
    decode({ bytes, view, first: ch * step, stride: step * channels, count }, out[ch]!, to);
}
