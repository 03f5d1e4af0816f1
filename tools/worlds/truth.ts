// Sessions with known truth: FOLDER of audio files, FOLDER.truth/truth.json beside it.
import { readFileSync } from "node:fs";
import type { Piece } from "../../src/core/song/song";

/** What is true of one file of a session. */
export interface MicTruth {
  file: string;
  piece: Piece;
  place: string;
  silent: boolean;
  unplayed: boolean;
  main: boolean;
  polarity: 1 | -1;
  delaySamples: number;
  alignSamples: number;
}
/** What is true of a session, as it lies beside its folder. */
export interface SessionTruth {
  mics: MicTruth[];
  main: Record<string, { mic: string; channel: number; close: boolean }>;
  arrivals: {
    piece: string;
    mic: string;
    channel: number;
    delaySamples: number;
    alignSamples: number;
    polarity: 1 | -1;
  }[];
  strokes: { piece: Piece; timeSeconds: number; ghost: boolean }[];
  tempo: {
    bpm: number;
    drift: number;
    grid: { beats: number[] };
    alternatives: { bpm: number; beatsPerTrueBeat: number }[];
  };
}
export const readTruth = (folder: string): SessionTruth =>
  JSON.parse(readFileSync(`${folder}.truth/truth.json`, "utf8")) as SessionTruth;
