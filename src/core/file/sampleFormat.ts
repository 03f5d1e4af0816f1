/** What is wrong with a file, in words for its owner. */
export class AudioFileError extends Error {
  override readonly name = "AudioFileError";
}

/** How one sample lies in a file; "be": high byte first, as in AIFF; "pcm8s": 8 bit with a sign. */
export type SampleFormat =
  | "pcm8"
  | "pcm8s"
  | "pcm16"
  | "pcm24"
  | "pcm32"
  | "float32"
  | "float64"
  | "pcm16be"
  | "pcm24be"
  | "pcm32be"
  | "float32be"
  | "float64be";

/** Bytes of one sample. */
export const bytesOf: Record<SampleFormat, number> = {
  pcm8: 1,
  pcm8s: 1,
  pcm16: 2,
  pcm24: 3,
  pcm32: 4,
  float32: 4,
  float64: 8,
  pcm16be: 2,
  pcm24be: 3,
  pcm32be: 4,
  float32be: 4,
  float64be: 8,
};

/** Full scale so many times over is no audio: 60 dB above 0 dBFS. */
const largestSample = 1000;

/**
 * Refuses samples that are not finite numbers, or beyond all audio; `from` is the frame at which the arrays begin. Whole
 * numbers of a file are neither.
 * Errors  AudioFileError.
 */
export function checkNumbers(
  sampleFormat: SampleFormat,
  channels: readonly Float32Array[],
  from: number,
  frames = Infinity,
): void {
  if (sampleFormat.startsWith("pcm")) return;
  for (const x of channels) {
    const count = Math.min(frames, x.length);
    for (let i = 0; i < count; i++)
      // A number less itself is 0; what is infinite or no number is not.
      if (x[i]! - x[i]! !== 0)
        throw new AudioFileError(`has a sample that is not a number at frame ${from + i}`);
      else if (Math.abs(x[i]!) > largestSample)
        throw new AudioFileError(
          `has a sample of ${x[i]!.toExponential(1)} at frame ${from + i}, more than 60 dB over full scale: no audio`,
        );
  }
}
