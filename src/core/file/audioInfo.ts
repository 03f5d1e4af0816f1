import { AudioFileError, type SampleFormat } from "./sampleFormat";

/** Where and how the audio lies in a file. */
export interface AudioInfo {
  readonly sampleFormat: SampleFormat;
  readonly channels: number;
  readonly sampleRate: number;
  /** Bytes of one frame over all channels. */
  readonly frameBytes: number;
  readonly dataStart: number;
  readonly frames: number;
  /** Frames since midnight of the first frame, from a broadcast extension; null without one. */
  readonly timeReference: number | null;
  /** Oddities that were lived with, each one sentence. */
  readonly remarks: readonly string[];
}

/** A named place in a file. */
export interface Marker {
  readonly frame: number;
  readonly name: string;
}

/** A whole decoded file. */
export interface Audio {
  readonly sampleRate: number;
  readonly channels: Float32Array[];
}

/** Rates and channels that are taken. */
export const audioLimits = { sampleRate: [8000, 384000], channels: [1, 2] } as const;

/** What every kind of file must keep to. Errors  AudioFileError. */
export function checkFormat({ channels, sampleRate }: Pick<AudioInfo, "channels" | "sampleRate">): void {
  if (channels < audioLimits.channels[0] || channels > audioLimits.channels[1])
    throw new AudioFileError(`has ${channels} channels; a mic file has 1 or 2`);
  if (!(sampleRate >= audioLimits.sampleRate[0] && sampleRate <= audioLimits.sampleRate[1]))
    throw new AudioFileError(
      `has a sample rate of ${sampleRate} Hz; usable: ${audioLimits.sampleRate.join(" to ")} Hz`,
    );
}
