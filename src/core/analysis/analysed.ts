import type { Label } from "../gather/labels";
import type { PieceEvents } from "../hits/events";
import type { Hit, Piece, Place, Tempo } from "../song/song";
import type { Samples } from "../signal/samples";
import { placed } from "../engine/timeline";

/** A mic as it is analysed. */
export interface KitMic {
  readonly file: string;
  readonly label: Label;
  /** From the song's first frame on. */
  readonly channels: readonly Samples[];
  /** Largest sample, where that is known. */
  readonly peakDbfs?: number;
}

/** A mic as it came: name, label, audio in memory. */
export interface RecordedMic extends Omit<KitMic, "channels"> {
  readonly channels: readonly Float32Array[];
  /** Frame of the song at which the channels begin; 0 when it is not told. */
  readonly start?: number;
}

/** A mic that came, as it is analysed. */
export const onTimeLine = ({ start = 0, channels, ...mic }: RecordedMic): Omit<RecordedMic, "start"> => ({
  ...mic,
  channels: placed(channels, start),
});

export interface AnalysedMic {
  file: string;
  channels: number;
  piece: Piece;
  place: Place;
  sure: number;
  silent: boolean;
  unplayed: boolean;
  peakDbfs: number;
  reference: string | null;
  polarity: 1 | -1;
  delaySamples: number;
  confidence: number;
  /** Strokes over which delay and polarity were measured. */
  strokes: number;
  /** Millionths by which its recorder's clock runs off; 0: not at all. */
  driftPpm: number;
}

export interface Arrival {
  piece: Piece;
  mic: string;
  channel: number;
  delaySamples: number;
  polarity: 1 | -1;
  confidence: number;
}

export interface KitAnalysis {
  sampleRate: number;
  durationSeconds: number;
  mics: AnalysedMic[];
  arrivals: Arrival[];
  tempo: Tempo | null;
  hits: readonly Hit[];
  /** What happens in the main mic of each drum, strokes and bleed, as far as it may be a stroke. */
  events: PieceEvents[];
}
