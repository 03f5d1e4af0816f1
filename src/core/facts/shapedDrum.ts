import type { ParamValue } from "../params";

/** Levels of the parts of a drum's sound, dB. */
export interface BandChange {
  readonly weight: number;
  readonly box: number;
  readonly stick: number;
  readonly air: number;
}

/** What a flavour makes of a drum's mic, each processor fitted and measured behind those before it. */
export interface ShapedDrum {
  readonly eq: Readonly<Record<string, ParamValue>>;
  /** What the EQ changes in the parts of the strokes, dB. */
  readonly changed: BandChange;
  /** Threshold in dBFS of the recording; null: a second mic has none. */
  readonly compressor: {
    readonly threshold: number;
    readonly ratio: number;
    readonly attack: number;
    readonly release: number;
    readonly makeup: number;
    /** Reduction of the strokes in the middle, dB. */
    readonly reductionDb: number;
    /** By how much it is quieter than what comes in, so that the loudest stroke keeps its room, dB. */
    readonly lowered: number;
  } | null;
  /** Drive and output against the level of the recording; null: nothing is rounded. */
  readonly rounding: {
    readonly drive: number;
    readonly output: number;
    /** Change of the peaks in the middle at the same loudness, dB. */
    readonly peakDb: number;
    /** As of the compressor. */
    readonly lowered: number;
  } | null;
  /** Average stroke as it comes in and behind all of it, dBFS at `strokeTimesMs` (shape/shapeDrum). */
  readonly stroke: { readonly before: readonly number[]; readonly after: readonly number[] };
  /** Main strokes it was measured over. */
  readonly strokes: number;
}
