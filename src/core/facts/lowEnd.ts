/** How unlike the low end of a drum's strokes is, and what holding it does. Levels in dB, as the mic was recorded. */
export interface LowEnd {
  /** Below this the low end lies, Hz. */
  readonly below: number;
  /** What lies between the softest and the loudest tenth of the strokes: below, above, and below when it is held. */
  readonly spread: number;
  readonly spreadAbove: number;
  readonly held: number;
  /** Threshold of the band compressor's lowest band, dBFS. */
  readonly threshold: number;
  readonly strokes: number;
}
