import type { Piece } from "./piece";

/** What a layer does with ghost notes: plays them like any stroke, leaves them out, or gives them sounds of their own. */
export const ghostWays = ["play", "leave", "own"] as const;
export type GhostWay = (typeof ghostWays)[number];

/** One sound of a layer: a stretch of its file. */
export interface OneShot {
  readonly name: string;
  /** First frame in the file, and how many. */
  readonly from: number;
  readonly frames: number;
  /** Frames from its first to its transient, which is played on the stroke. */
  readonly onset: number;
  /** Peak, dBFS. */
  readonly levelDb: number;
  /** How far the bleed lies under its first 100 ms, dB; null: it comes from a file and nobody knows. */
  readonly cleanDb: number | null;
  /** It takes part. */
  readonly on: boolean;
  /** It is for ghost notes. */
  readonly ghost: boolean;
}

/** A stroke that a layer plays. */
export interface LayerStroke {
  /** s from the start of the files. */
  readonly time: number;
  readonly levelDb: number;
  readonly ghost: boolean;
}

/** Where one stroke is played beside its place so that the layer is in phase with the drum there. */
export interface LayerShift {
  /** The stroke, s. */
  readonly time: number;
  /** Later by so many frames. */
  readonly frames: number;
  /** It is played turned over: neither side of all suits it. */
  readonly turned?: boolean;
}

/** How a track of the song plays one-shots at the strokes of a drum instead of a recording. */
export interface Layer {
  readonly drum: Piece;
  readonly sounds: readonly OneShot[];
  /** How far its loudness follows the strokes, %: 0 always the same, 100 dB for dB. */
  readonly follow: number;
  readonly ghosts: GhostWay;
  /** A sound rings on under the next stroke; otherwise that ends it. */
  readonly ringsOn: boolean;
  /** Time in which a new stroke ends the sound before it, s. */
  readonly fade: number;
  /** Strokes of its own, from a file; null: those of the drum, as found and corrected. */
  readonly strokes: readonly LayerStroke[] | null;
  readonly shifts: readonly LayerShift[];
}

/** Limits of a layer. */
export const layerLimits = { sounds: 64, follow: 150, fade: 1, soundSeconds: 30, shiftFrames: 4800 } as const;

/** A layer with nothing decided: cymbals ring on, other drums are ended by their next stroke. */
export const newLayer = (drum: Piece, sounds: readonly OneShot[]): Layer => ({
  drum,
  sounds,
  follow: 100,
  ghosts: "leave",
  ringsOn: drum === "ride" || drum === "crash",
  fade: 0.005,
  strokes: null,
  shifts: [],
});
