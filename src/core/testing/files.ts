// Files for tests only, put together byte by byte from the formats' own descriptions.
import { noise } from "./signals";

const ascii = (s: string): number[] => [...s].map((c) => c.charCodeAt(0));
const number = (value: number, bytes: number, little: boolean): number[] => {
  const list = Array.from({ length: bytes }, (_, i) => Math.floor(value / 256 ** i) % 256);
  return little ? list : list.reverse();
};
export const le = (value: number, bytes: number): number[] => number(value, bytes, true);
export const be = (value: number, bytes: number): number[] => number(value, bytes, false);
const pad = (body: readonly number[]): number[] => [...body, ...(body.length % 2 ? [0] : [])];
const chunk = (id: string, body: readonly number[], little: boolean): number[] => [
  ...ascii(id),
  ...number(body.length, 4, little),
  ...pad(body),
];
export const riffChunk = (id: string, body: readonly number[]): number[] => chunk(id, body, true);
export const iffChunk = (id: string, body: readonly number[]): number[] => chunk(id, body, false);

export const riff = (...chunks: number[][]): Uint8Array => {
  const body = chunks.flat();
  return Uint8Array.from([...ascii("RIFF"), ...le(body.length + 4, 4), ...ascii("WAVE"), ...body]);
};
export const iff = (kind: "AIFF" | "AIFC", ...chunks: number[][]): Uint8Array => {
  const body = chunks.flat();
  return Uint8Array.from([...ascii("FORM"), ...be(body.length + 4, 4), ...ascii(kind), ...body]);
};

/** Body of a format chunk. */
export const wavFormat = (tag: number, bits: number, channels: number, rate: number): number[] => {
  const frame = channels * Math.ceil(bits / 8);
  return [
    ...le(tag, 2),
    ...le(channels, 2),
    ...le(rate, 4),
    ...le(rate * frame, 4),
    ...le(frame, 2),
    ...le(bits, 2),
  ];
};

/** 80-bit extended number of a whole rate below 2^32. */
const extended = (rate: number): number[] => {
  const exponent = Math.floor(Math.log2(rate));
  return [...be(16383 + exponent, 2), ...be(rate * 2 ** (31 - exponent), 4), 0, 0, 0, 0];
};
export const aiffCommon = (
  frames: number,
  bits: number,
  channels: number,
  rate: number,
  kind = "",
): number[] => [
  ...be(channels, 2),
  ...be(frames, 4),
  ...be(bits, 2),
  ...extended(rate),
  ...ascii(kind),
  ...(kind ? [0, 0] : []),
];

/** Whole numbers of a signal at a width, full scale 2^(bits - 1). */
export const integers = (x: Float32Array, bits: number): number[] =>
  Array.from(x, (v) => Math.round(v * (2 ** (bits - 1) - 1)));
/** Two's complement of the integers, low or high byte first. */
export const pcm = (values: readonly number[], bits: number, little: boolean): number[] =>
  values.flatMap((v) => number(v < 0 ? v + 2 ** bits : v, bits / 8, little));

export const someNoise = noise(300, 11, 0.9);
