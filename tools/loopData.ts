// Loops with known truth: stretches of simulated sessions, the drums' own parts of their close mics mixed anew, as a baked loop holds them.
import { existsSync, readFileSync } from "node:fs";
import { randomSource } from "../src/core/signal/random";
import { dbToGain } from "../src/core/signal/level";
import { loopDrums, type LoopDrum } from "../src/core/loops/loopDrums";
import type { Piece } from "../src/core/song/song";
import { readTruth } from "./worlds/truth";

/** Numpy's array file of 32-bit numbers, version 1.0. Shape  [channel][frame]. */
export function readNpy(path: string): Float32Array[] {
  const bytes = readFileSync(path);
  const head = 10 + bytes.readUInt16LE(8);
  const channels = Number(/\((\d+), (\d+)\)/.exec(bytes.subarray(10, head).toString())![2]);
  const values = new Float32Array(
    bytes.buffer.slice(bytes.byteOffset + head, bytes.byteOffset + bytes.length),
  );
  const frames = values.length / channels;
  return Array.from({ length: channels }, (_, ch) =>
    Float32Array.from({ length: frames }, (__, i) => values[i * channels + ch]!),
  );
}

export interface TrueLoop {
  readonly name: string;
  readonly sampleRate: number;
  readonly audio: Float32Array;
  /** What it was mixed from: drums, and the rest. */
  readonly stems: Readonly<Record<LoopDrum | "rest", Float32Array>>;
  /** s; ghost notes told apart. */
  readonly strokes: Readonly<Record<LoopDrum, readonly { readonly time: number; readonly ghost: boolean }[]>>;
  /** Of toms. */
  readonly strange: readonly number[];
}

/** Levels in a loop, dB: least and most of each drum's loudest strokes (common practice, no source). */
const levels: readonly (readonly [Piece, number, number])[] = [
  ["kick", -9, -3],
  ["snare", -11, -3],
  ["hat", -24, -11],
  ["ride", -24, -13],
  ["tom1", -14, -5],
  ["tom2", -14, -5],
  ["tom3", -14, -5],
  ["floor", -14, -5],
];
const stemOf = (piece: Piece): LoopDrum | "rest" =>
  piece === "ride" ? "hat" : (loopDrums as readonly string[]).includes(piece) ? (piece as LoopDrum) : "rest";

/** Gain that brings the loudest strokes to 0 dBFS; 0 for what is hardly there. */
function evenGain(x: Float32Array): number {
  const sorted = x
    .filter((_, i) => i % 7 === 0)
    .map(Math.abs)
    .sort();
  const loud = sorted[Math.max(0, sorted.length - 40)]!;
  return loud > 1e-5 ? 1 / loud : 0;
}

/** Loops of a session; `plain`: nothing is bent and no overhead is mixed in, so that the stems add up to it. */
export function loopsOf(folder: string, count: number, seed: number, plain = false): TrueLoop[] {
  const truth = readTruth(folder);
  const { sampleRate } = truth as typeof truth & { sampleRate: number };
  const random = randomSource(seed);
  const between = (low: number, high: number) => low + random() * (high - low);
  const own = (piece: Piece): Float32Array | null => {
    const mic = truth.mics.find(
      (m) => m.piece === piece && !m.silent && !["out", "sub", "bottom"].includes(m.place),
    );
    const path = mic && `${folder}.truth/own/${mic.file}.npy`;
    return path && existsSync(path) ? readNpy(path)[0]! : null;
  };
  const parts = levels.map(([piece, low, high]) => ({ piece, low, high, x: own(piece) }));
  const has = (piece: Piece) => parts.some((p) => p.piece === piece && p.x);
  const over = own("overhead");
  if (!has("kick") || !has("snare") || (!has("hat") && !has("ride") && (plain || !over))) return [];
  const frames = parts.find((p) => p.x)!.x!.length;
  return Array.from({ length: count }, (_, n): TrueLoop => {
    const length = Math.min(frames, Math.round(between(8, 14) * sampleRate));
    const from = Math.floor(random() * (frames - length));
    const stems = {
      kick: new Float32Array(length),
      snare: new Float32Array(length),
      hat: new Float32Array(length),
      rest: new Float32Array(length),
    };
    for (const { piece, low, high, x } of parts) {
      const gain = x ? evenGain(x) * dbToGain(between(low, high)) : 0;
      const y = stems[stemOf(piece)];
      for (let i = 0; gain > 0 && i < length; i++) y[i]! += gain * (x![from + i] ?? 0);
    }
    const cymbals = has("hat") || has("ride");
    const room =
      plain || !over || (cymbals && random() < 0.5)
        ? 0
        : evenGain(over) * dbToGain(cymbals ? between(-22, -6) : between(-12, -4));
    const drive = !plain && random() < 0.3 ? 1 + 2.5 * random() : 0;
    const audio = new Float32Array(length);
    for (let i = 0; i < length; i++) {
      const sum =
        stems.kick[i]! + stems.snare[i]! + stems.hat[i]! + stems.rest[i]! + room * (over?.[from + i] ?? 0);
      audio[i] = drive > 0 ? Math.tanh(drive * sum) / drive : sum;
    }
    const strokesOf = (...pieces: Piece[]) =>
      truth.strokes
        .filter((s) => pieces.includes(s.piece) && (room > 0 || has(s.piece)))
        .map((s) => ({ time: s.timeSeconds - from / sampleRate, ghost: s.ghost }))
        .filter(({ time }) => time > 0.01 && time < length / sampleRate - 0.1);
    return {
      name: `${folder.split("/").at(-1)!} ${n + 1}`,
      sampleRate,
      audio,
      stems,
      strokes: { kick: strokesOf("kick"), snare: strokesOf("snare"), hat: strokesOf("hat", "ride") },
      strange: strokesOf("tom1", "tom2", "tom3", "floor").map((s) => s.time),
    };
  });
}
