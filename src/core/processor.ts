import type { AnyValues, ParamTable } from "./params";

/** One array of frames per channel. */
export type Planar = readonly Float32Array[];

export interface StreamFormat {
  /** Frames per second. */
  readonly sampleRate: number;
  readonly channels: number;
  /** The most frames one `process` call may bring. */
  readonly maxFrames: number;
}

/** What a processor may know beside its input. One object is reused for every call. */
export interface ProcessContext {
  /** Index, on the song's time line, of the first frame of the input. */
  position: number;
  /** Detector signal from another mic, already in time with the input; null: listen to the input. */
  key: Planar | null;
  /** Onsets of this drum in frames on the song's time line, ascending; may be empty. */
  hits: Float64Array;
}

/**
 * One computation on a stream. `prepare` is the only place that allocates; `process` allocates and throws nothing.
 * Any split of a stream into blocks gives the same output, and output may be the input.
 */
export interface Processor<V = AnyValues> {
  prepare(format: StreamFormat): void;
  set(values: V): void;
  reset(): void;
  process(input: Planar, output: Planar, frames: number, context: ProcessContext): void;
  /** Frames by which the output is late; constant from `prepare` on. */
  readonly latency: number;
  /** Gain reduction of the last block in dB (positive: turned down), for meters. */
  readonly reductionDb?: number;
}

/** A processor as the list of all processors knows it. */
export interface ProcessorType {
  readonly type: string;
  readonly label: string;
  readonly help: string;
  readonly params: ParamTable;
  create(): Processor;
}

const noHits = new Float64Array(0);

/** A context for streams that have neither key nor hits. */
export const plainContext = (position = 0): ProcessContext => ({ position, key: null, hits: noHits });
