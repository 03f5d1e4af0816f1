import { readFileSync, rmSync } from "node:fs";
import type { Delivery } from "../../core/deliver/delivery";
import { readAudio } from "../../core/file/audioFile";
import { NoiseShaper } from "../../core/file/noiseShaper";
import { resample } from "../audio/convert";
import { writeFlac } from "../audio/flacFile";
import { WavFile } from "../audio/wavFile";

/** How one rendered file becomes what is delivered. */
export interface Finish {
  readonly path: string;
  readonly delivery: Delivery;
  /** Rate of the render, Hz. */
  readonly sampleRate: number;
  /** Frames since midnight of its first frame, at the rate of the render; null: not known. */
  readonly timeReference: number | null;
}

/** True where what is rendered is written as it comes: nothing is changed behind it. */
export const isPlain = ({ format, sampleRate, target }: Delivery): boolean =>
  format !== "flac" && sampleRate === null && target === "none";

/** The file that a render is written to as it comes. */
export const plainFile = (
  { path, delivery, sampleRate, timeReference }: Finish,
  channels: number,
  frames: number,
): WavFile => {
  const { format, dither } = delivery;
  if (format === "flac") throw new TypeError("FLAC is not written as it comes");
  const shaping =
    dither === "shaped" && format === "wav16"
      ? Array.from({ length: channels }, () => new NoiseShaper())
      : null;
  return new WavFile(path, format, channels, sampleRate, frames, { timeReference, shaping });
};

/**
 * Finishes a file that was rendered raw: its gain (`change`, in place), its rate, its format. The raw file goes.
 * Errors  as of the writers; what was begun is given up.
 */
export async function finishFile(
  raw: string,
  finish: Finish,
  change: (channels: Float32Array[]) => Float32Array[],
): Promise<void> {
  const { path, delivery, sampleRate, timeReference } = finish;
  const read = readAudio(new Uint8Array(readFileSync(raw)));
  rmSync(raw);
  const rate = delivery.sampleRate ?? sampleRate;
  const channels = await resample(change([...read.channels]), sampleRate, rate);
  const frames = channels[0]!.length;
  if (delivery.format === "flac") return writeFlac(path, channels, rate);
  const at = timeReference === null ? null : Math.round((timeReference * rate) / sampleRate);
  const file = plainFile({ ...finish, sampleRate: rate, timeReference: at }, channels.length, frames);
  try {
    file.write(channels, frames);
    file.close();
  } catch (error) {
    file.abandon();
    throw error;
  }
}
