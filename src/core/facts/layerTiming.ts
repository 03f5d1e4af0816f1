/** How the strokes of a layer lie against those of the drum it doubles. */
export interface LayerTiming {
  /** Instants of the drum's strokes that the layer doubles, s. */
  readonly times: readonly number[];
  /** By how much later each begins in the layer than all of them do in the middle, s. */
  readonly strays: readonly number[];
}
