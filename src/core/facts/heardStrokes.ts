import type { Piece } from "../song/song";

/** How loud the drums' main strokes are in a mic as it was recorded. */
export interface HeardStrokes {
  /** By drum: K-weighted level over the first 200 ms (shape/strokeLoudness), dB: the own one of a close mic, all of a far one. */
  readonly heard: Readonly<Partial<Record<Piece, number>>>;
  /** How much a second mic's strokes are like its main mic's once aligned, -1..1; null: it is none. */
  readonly together: number | null;
}
