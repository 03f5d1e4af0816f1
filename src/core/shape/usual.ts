import type { Piece } from "../song/song";

/**
 * The compressor a drum usually starts with, and the reduction its strokes should get in the median, dB.
 * Source  common practice: kick 4:1, 5 ms, 150-200 ms, 7-8 dB; fatter snare by a fast attack and 3-6 dB.
 */
export function usualCompressor(piece: Piece): {
  ratio: number;
  attack: number;
  release: number;
  wishedDb: number;
} {
  if (piece === "kick") return { ratio: 4, attack: 0.005, release: 0.15, wishedDb: 7 };
  if (piece === "snare") return { ratio: 4, attack: 0.002, release: 0.1, wishedDb: 4 };
  return { ratio: 3, attack: 0.008, release: 0.12, wishedDb: 4 };
}
