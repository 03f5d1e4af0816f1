/** What is wrong with a recording, as far as the sound tells. */
export interface Faults {
  /** Places where the top of the wave is cut flat: how many, and where the first lie, s. */
  readonly clips: { readonly count: number; readonly times: readonly number[] };
  /** Level of the quietest moments, dBFS RMS; a mic in a room lies well below. */
  readonly noiseDb: number;
  /** Mean of all samples, full scale 1. */
  readonly dc: number;
}
