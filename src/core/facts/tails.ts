/** How one side of the corner is held open after a stroke. */
export interface Opening {
  /** s. */
  readonly hold: number;
  readonly release: number;
}

/** How a mic is best held down between the strokes of its drum, in two bands, and what that is worth. */
export interface Tails {
  /** Corner between the bands, Hz. */
  readonly corner: number;
  readonly low: Opening;
  readonly high: Opening;
  /** The same with one band for everything. */
  readonly whole: Opening;
  readonly wholeAfter: number;
  /** How much bleed and lost drum together lie under the drum, untreated and treated, dB. */
  readonly errorBefore: number;
  readonly errorAfter: number;
  /** Strokes it was measured over. */
  readonly strokes: number;
}
