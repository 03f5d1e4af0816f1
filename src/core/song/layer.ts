import type { Layer, Mic, OneShot, Piece } from "./song";

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

/** A mic that is a layer. */
export type LayerMic = Mic & { readonly layer: Layer };
export const isLayer = (mic: Mic): mic is LayerMic => mic.layer !== undefined;
