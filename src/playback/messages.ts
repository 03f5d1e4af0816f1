import type { Listening } from "../core/listen/listening";
import type { Operation } from "../core/song/operations";
import type { Reading } from "../core/engine/oneShots/readings";
import type { Song } from "../core/song/song";
import type { PartitionedResponse } from "../core/signal/partitionedResponse";
import type { RingMemory } from "./ring";

/** A stretch of the song in frames. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** Clicks before play begins. */
export interface CountIn {
  readonly beats: number;
  readonly framesPerBeat: number;
}

/** To the worklet. */
export type EngineMessage =
  | {
      readonly type: "open";
      readonly song: Song;
      readonly ring: RingMemory;
      readonly board: SharedArrayBuffer;
      readonly listening: Listening;
    }
  | { readonly type: "operation"; readonly operation: Operation }
  /** A song with the same files at the same places. */
  | { readonly type: "song"; readonly song: Song }
  | { readonly type: "listen"; readonly listening: Listening }
  | { readonly type: "play"; readonly on: boolean; readonly countIn?: CountIn | null }
  /** The playhead jumps to a frame: only blocks of this generation count. */
  | { readonly type: "generation"; readonly generation: number; readonly position: number }
  /** Clicks on these frames of the song; none: no click. */
  | { readonly type: "click"; readonly beats: readonly number[]; readonly accents: readonly boolean[] }
  /** An impulse response of the song, by the id of its mic. */
  | { readonly type: "response"; readonly mic: string; readonly response: PartitionedResponse }
  /** Half speed at the same pitch. */
  | { readonly type: "half"; readonly on: boolean }
  /** Processors whose gain reduction is reported, in this order. */
  | { readonly type: "watch"; readonly ids: readonly string[] }
  /** The mic or bus along whose chain levels are reported. */
  | { readonly type: "watchChain"; readonly id: string | null }
  /** The processor whose bands' gains are reported. */
  | { readonly type: "watchBands"; readonly id: string | null }
  /** Hands back the next frames that are heard in one go; for tests. */
  | { readonly type: "capture"; readonly frames: number };

/** From the worklet; what changes all the time goes over the meter board. */
export type FromEngine =
  /** Processors that were taken out because they returned something that is no number. */
  | { readonly type: "failed"; readonly ids: readonly string[] }
  /** The engine could not take a message; the reason in words. */
  | { readonly type: "broken"; readonly message: string }
  | { readonly type: "captured"; readonly position: number; readonly channels: readonly Float32Array[] };

export interface StreamMic {
  /** Id of the audio in the store. */
  readonly audio: string;
  readonly channels: number;
  /** Song frame at which the file begins. */
  readonly start: number;
  /** A short file that is read here and there: it is held whole. */
  readonly whole?: boolean;
}

/** To the streaming worker. */
export type StreamMessage =
  | {
      readonly type: "open";
      readonly ring: RingMemory;
      readonly mics: readonly StreamMic[];
      readonly frames: number;
      readonly sampleRate: number;
    }
  | {
      readonly type: "seek";
      readonly position: number;
      readonly generation: number;
      /** Stretches that are played one after another instead of the whole song. */
      readonly stretches: readonly Stretch[] | null;
      /** The stretches begin again when they are over. */
      readonly again: boolean;
      /** By mic. */
      readonly readings: readonly Reading[];
      /** Those of the other side of a comparison; null: the same. */
      readonly otherReadings: readonly Reading[] | null;
    };

/** From the streaming worker. */
export type FromStream =
  | { readonly type: "waiting"; readonly message: string }
  | { readonly type: "flowing" }
  /** The stretches of this generation are all on their way; the last one ends at `frame`. */
  | { readonly type: "ending"; readonly generation: number; readonly frame: number };
