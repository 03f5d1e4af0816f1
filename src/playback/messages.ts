import type { Listening } from "../core/engine/engine";
import type { Operation } from "../core/song/operations";
import type { Edit, Song } from "../core/song/song";
import type { RingMemory } from "./ring";

/** Loop in frames of the song. */
export interface Loop {
  readonly from: number;
  readonly to: number;
}

/** To the worklet. */
export type EngineMessage =
  | { readonly type: "open"; readonly song: Song; readonly ring: RingMemory; readonly listening: Listening }
  | { readonly type: "operation"; readonly operation: Operation }
  /** A song with the same mics, buses and chains. */
  | { readonly type: "song"; readonly song: Song }
  | { readonly type: "listen"; readonly listening: Listening }
  | { readonly type: "play"; readonly on: boolean }
  /** The playhead jumps: only blocks of this generation count. */
  | { readonly type: "generation"; readonly generation: number }
  /** Processors whose gain reduction is reported. */
  | { readonly type: "watch"; readonly ids: readonly string[] }
  /** Hands back the next frames that are heard; for tests. */
  | { readonly type: "capture"; readonly frames: number };

export interface ProcessorMeter {
  readonly id: string;
  readonly reductionDb: number;
  readonly matchDb: number;
}

/** What the worklet reports some forty times a second. */
export interface EngineState {
  readonly type: "state";
  /** Song frame that is heard. */
  readonly position: number;
  readonly generation: number;
  readonly playing: boolean;
  /** Peak per mic since the last report, linear. */
  readonly peaks: readonly number[];
  /** Momentary loudness of the kit, LUFS. */
  readonly momentary: number;
  /** Peak of the kit since the last report, linear. */
  readonly kitPeak: number;
  /** Gain in dB by which the untreated recording is moved. */
  readonly matchDb: number;
  readonly processors: readonly ProcessorMeter[];
  /** Blocks in which playback had to wait for audio, since opening. */
  readonly starved: number;
  /** Processors that were taken out because they returned something that is no number. */
  readonly failed: readonly string[];
}

export type FromEngine =
  | EngineState
  | { readonly type: "captured"; readonly position: number; readonly channels: readonly Float32Array[] };

export interface StreamMic {
  /** Id of the audio in the store. */
  readonly audio: string;
  readonly channels: number;
}

/** To the streaming worker. */
export type StreamMessage =
  | {
      readonly type: "open";
      readonly ring: RingMemory;
      readonly mics: readonly StreamMic[];
      readonly frames: number;
    }
  | {
      readonly type: "seek";
      readonly position: number;
      readonly generation: number;
      readonly loop: Loop | null;
      readonly edits: readonly Edit[];
    };

/** From the streaming worker. */
export type FromStream =
  | { readonly type: "waiting"; readonly message: string }
  | { readonly type: "flowing" }
  | { readonly type: "failed"; readonly message: string };
