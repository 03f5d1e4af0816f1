/** How long a drum's ring lasts over its strokes, and with the ring tamer that is proposed. */
export interface RingDecay {
  /** Hz. */
  readonly frequency: number;
  /** T60 as it is and tamed, s. */
  readonly found: number;
  readonly tamed: number;
  /** What the tamer is asked for, s. */
  readonly wanted: number;
  /** Strokes it was measured over. */
  readonly strokes: number;
}
