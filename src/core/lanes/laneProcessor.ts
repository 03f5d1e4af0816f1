import type { PartitionedResponse } from "../signal/partitionedResponse";
import type { LaneOwner } from "./laneOwner";
import type { AnyValues } from "../params";
import type { LaneMemory } from "./laneMemory";

/** What a lane processor may know beside its input; one object, reused. */
export interface LaneContext {
  /** Per owner: song frame of the first input frame. */
  positions: Float64Array;
  /** Lanes of the key, in time with the input; 0: listen to the input. */
  key: number;
  /** Onsets per owner, frames, ascending. */
  readonly hits: Float64Array[];
  /** Beats of the song, frames, ascending; the same for all owners. */
  beats: Float64Array;
}

/**
 * One kind of processor over four lanes, in place over x. `dry` is x as late as the result; it is always given when the
 * latency is not zero. Allocates only when made.
 */
export interface LaneProcessor {
  readonly latency: number;
  /** Takes values for all lanes of an owner. */
  set(owner: number, values: AnyValues): void;
  /** Forgets the audio of one owner. */
  reset(owner: number): void;
  process(x: number, dry: number, frames: number, context: LaneContext): void;
  /** Takes over what another of its kind remembers of one of its owners. */
  adopt?(owner: number, from: LaneProcessor, fromOwner: number): void;
  /** Takes over audio that it holds, which is right while both hear the same. */
  adoptLine?(owner: number, from: LaneProcessor, fromOwner: number): void;
  /** Gives an owner the impulse response that it answers with. */
  respond?(owner: number, response: PartitionedResponse | null): void;
  /** Gain reduction of an owner in the last block, dB. */
  reductionDb?(owner: number): number;
  /** Gains of an owner's bands now into `out`, dB; NaN: off. Allocates nothing. */
  bandGains?(owner: number, out: Float64Array): void;
}

/** Mics or buses whose lanes run side by side. */
export interface LaneGroup {
  readonly memory: LaneMemory;
  readonly sampleRate: number;
  readonly owners: readonly LaneOwner[];
}
/** What a lane processor is made for. */
export interface LaneFormat extends LaneGroup {
  /** Per owner: both lanes share one detector. */
  readonly paired: readonly boolean[];
}
