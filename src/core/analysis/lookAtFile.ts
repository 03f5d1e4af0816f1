import type { Faults } from "../facts/faults";
import { findFaults } from "../gather/faults";
import { measureLoudness } from "../measure/loudness";
import { behind, type Samples } from "../signal/samples";

/** A file by itself: no stroke and no other mic needs to be known. */
export interface FileLookAsk {
  /** From the song's first frame on. */
  readonly channels: readonly Samples[];
  /** Frame of the song at which the file begins. */
  readonly start: number;
  readonly sampleRate: number;
}

export interface FileLook {
  /** Its times are those of the file. */
  readonly faults: Faults;
  /** Integrated, LUFS. */
  readonly loudness: number;
}

/** What a file tells of itself. */
export function lookAtFile({ channels, start, sampleRate }: FileLookAsk): FileLook {
  const file = channels.map((x) => behind(x, start));
  return {
    faults: findFaults(file, sampleRate),
    loudness: measureLoudness(channels, sampleRate).integrated,
  };
}
