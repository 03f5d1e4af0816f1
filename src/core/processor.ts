import type { LaneFormat, LaneProcessor } from "./lanes/laneProcessor";
import type { AnyValues, ParamTable } from "./params";
import type { PartitionedResponse } from "./signal/partitionedResponse";
import type { Step } from "./steps";

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
  /** Beats of the song in frames, ascending, from the first of the first full bar on; empty: no tempo is known. */
  beats: Float64Array;
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
  /** Takes over what another of its kind remembers, so that going from that to this one is not heard. */
  adopt?(from: Processor<V>): void;
  /** Takes the impulse response that it answers with; null: none. May allocate. */
  respond?(response: PartitionedResponse | null): void;
  /** Gain reduction of the last block in dB (positive: turned down), for meters. */
  readonly reductionDb?: number;
}

/** What a processor is for, as lists to add from group them. */
export const purposes = ["level", "place", "clean", "tone", "dynamics", "colour", "space"] as const;
export type Purpose = (typeof purposes)[number];

/**
 * What is drawn of a processor: its response over frequency, or what it does to every stroke, told by the reduction or by
 * the peaks before and after; `level` names the parameter that is drawn, and dragged, as a level.
 */
export type PictureOf =
  | { readonly over: "frequency" }
  /** What folding both sides to one costs; `below`: the parameter that says up to which frequency they are folded. */
  | { readonly over: "sides"; readonly below: string }
  | {
      readonly over: "strokes";
      readonly shows: "reductions" | "peaks";
      readonly level: string | null;
      /** Parameters that lift the attack and the tail of the average stroke, dB, and how long the attack is, s: dragged on its envelope. */
      readonly lifts?: { readonly attack: string; readonly attackTime: string; readonly sustain: string };
      /** It is there for small speakers: what they give of it is told. */
      readonly small?: true;
      /** Gain reduction per stroke that is usual, dB (common practice). */
      readonly usual?: readonly [from: number, to: number];
      /** Parameter that holds the frequency of a ring: how long that lasts is told. */
      readonly ring?: string;
    };

/** What is measured of a drum: its fundamental and its ring, Hz, and how long that rings, s (T60); of the kit how far its room mics stand, m. */
export type DrumFigure = "fundamental" | "ring" | "ringT60" | "roomDistance";

/** A processor as it is declared: everything that the rest of the program knows about it. */
export interface ProcessorType {
  readonly type: string;
  readonly label: string;
  readonly help: string;
  readonly params: ParamTable;
  /** Parameters that are shown first, most important one first. */
  readonly main: readonly string[];
  readonly step: Step;
  readonly purpose: Purpose;
  /** `free`: anywhere in a chain and as often as wanted; otherwise once at the beginning or end of every mic's chain. */
  readonly place: "first" | "free" | "last";
  /** It has no switch. */
  readonly alwaysOn: boolean;
  /** It puts the mic in phase, at its level or in its place, and stays when a mic is heard untreated or judged by it. */
  readonly keeps: "phase" | "level" | "place" | null;
  /** Its detector can listen to another mic or bus. */
  readonly listens: boolean;
  /** It answers with an impulse response, a file of the song. */
  readonly responds: boolean;
  /** It tells its gain reduction. */
  readonly meters: boolean;
  /** Two channels come out, however many went in. */
  readonly widens: boolean;
  readonly picture: PictureOf | null;
  /** Parameters that take what is known of the drum when the processor comes in. */
  readonly takes: Readonly<Partial<Record<DrumFigure, string>>>;
  /** Gain behind it, dB, by which it is matched in loudness to what comes in. */
  readonly output: string | null;
  /** Parameters that do nothing at these values, and need not be shown. */
  readonly idle: (values: AnyValues) => readonly string[];
  /** Values away from the defaults at which every part of it works, for tests of the contract. */
  readonly lively: AnyValues;
  /** Values with which files are made. */
  readonly rendered: (values: AnyValues) => AnyValues;
  /** Values at which an impulse passes with its peak where it was, apart from the latency. */
  readonly transparent: AnyValues;
  create(): Processor;
  /** The same over four lanes, by a kernel; without it the scalar processor runs in its lanes. */
  readonly lanes: ((format: LaneFormat) => LaneProcessor) | null;
}

type Usual =
  | "alwaysOn"
  | "idle"
  | "keeps"
  | "listens"
  | "responds"
  | "meters"
  | "widens"
  | "picture"
  | "takes"
  | "output"
  | "rendered"
  | "lanes"
  | "transparent";

/** Completes a declaration with what most processors are. */
export const declare = (given: Omit<ProcessorType, Usual> & Partial<ProcessorType>): ProcessorType => ({
  alwaysOn: false,
  idle: () => [],
  keeps: null,
  listens: false,
  responds: false,
  meters: false,
  widens: false,
  picture: null,
  takes: {},
  output: null,
  rendered: (values) => values,
  lanes: null,
  transparent: {},
  ...given,
});

const none = new Float64Array(0);

/** A context for streams that have neither key nor hits nor beats. */
export const plainContext = (position = 0): ProcessContext => ({
  position,
  key: null,
  hits: none,
  beats: none,
});
