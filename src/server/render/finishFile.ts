import { rmSync } from "node:fs";
import { dirname } from "node:path";
import type { Delivery } from "../../core/deliver/delivery";
import { peakCeiling, type TargetGain } from "../../core/deliver/loudnessTarget";
import { chainBlocks } from "../../core/engine/processChain";
import { NoiseShaper } from "../../core/file/noiseShaper";
import { dbToGain } from "../../core/signal/level";
import { pieceFrames, piecesTogether, type Samples } from "../../core/signal/samples";
import { newProcessor } from "../../core/song/create";
import { resampledPieces } from "../audio/convert";
import { DiskMic } from "../audio/diskMic";
import { flacReady } from "../audio/flac";
import { FlacFile } from "../audio/flacFile";
import { keepAudio, type KeptAudio } from "../audio/keptAudio";
import { framesAt } from "../audio/resample";
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

/** The file that audio is written to as it comes. */
export function fileFor(
  { path, delivery, sampleRate, timeReference }: Finish,
  channels: number,
  frames: number,
): WavFile | FlacFile {
  const { format, dither } = delivery;
  if (format === "flac") return new FlacFile(path, channels, sampleRate, frames);
  const shaping =
    dither === "shaped" && format === "wav16"
      ? Array.from({ length: channels }, () => new NoiseShaper())
      : null;
  return new WavFile(path, format, channels, sampleRate, frames, { timeReference, shaping });
}

/** Channels of a rendered file, read a stretch at a time. */
function channelsOf(disk: DiskMic): Samples[] {
  const { channels, frames } = disk.info;
  return Array.from({ length: channels }, (_, ch) => ({
    length: frames,
    subarray(from: number, to = frames) {
      const x = new Float32Array(Math.max(0, Math.min(frames, to) - from));
      if (x.length > 0) disk.source(ch)(from, x.length, x, 0);
      return x;
    },
  }));
}

/** Channels at a gain, worked out as they are read. */
const louder = (channels: readonly Samples[], gainDb: number): readonly Samples[] => {
  if (gainDb === 0) return channels;
  const gain = dbToGain(gainDb);
  return channels.map((x) => ({
    length: x.length,
    subarray: (from, to) => x.subarray(from, to).map((v) => v * gain),
  }));
};

/** Lets other work of the process come round. */
const breathe = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

/** Channels that are read as often as one likes until they are closed. */
type Brought = Pick<KeptAudio, "channels" | "close">;

/** Channels brought to a gain and, where it is asked for, behind the limiter. Errors  as keepAudio. */
export async function broughtTo(
  { gainDb, limits }: Pick<TargetGain, "gainDb" | "limits">,
  channels: readonly Samples[],
  sampleRate: number,
  folder: string,
): Promise<Brought> {
  const loud = louder(channels, gainDb);
  if (!limits) return { channels: loud, close: async () => {} };
  const limiter = [newProcessor("kit", "limiter", true, { ceiling: peakCeiling })];
  const kept = await keepAudio(loud.length, loud[0]!.length, folder);
  let next = 0;
  for (const { at, channels: block } of chainBlocks(limiter, loud, sampleRate)) {
    kept.take(block);
    if (at < next) continue;
    await breathe();
    next += pieceFrames;
  }
  kept.end();
  return kept;
}

/** Writes pieces into a file, which is given up when they break off. */
async function writeAll(
  file: WavFile | FlacFile,
  pieces: Iterable<readonly Float32Array[]> | AsyncIterable<readonly Float32Array[]>,
): Promise<void> {
  try {
    for await (const piece of pieces) {
      file.write(piece, piece[0]!.length);
      await breathe();
    }
    file.close();
  } catch (error) {
    file.abandon();
    throw error;
  }
}

/**
 * Finishes a file that was rendered raw: its gain, its rate, its format, a piece after another. The raw file goes.
 * Errors  as of the writers; what was begun is given up.
 */
export async function finishFile(
  raw: string,
  finish: Finish,
  gain: Pick<TargetGain, "gainDb" | "limits">,
): Promise<void> {
  const { delivery, sampleRate, timeReference } = finish;
  if (delivery.format === "flac") await flacReady();
  const disk = DiskMic.open(raw)!;
  rmSync(raw);
  let source: Brought | null = null;
  try {
    const rate = delivery.sampleRate ?? sampleRate;
    const { frames, channels } = disk.info;
    source = await broughtTo(gain, channelsOf(disk), sampleRate, dirname(raw));
    const all = piecesTogether(source.channels);
    const pieces = rate === sampleRate ? all : resampledPieces(all, channels, sampleRate, rate);
    const at = timeReference === null ? null : Math.round((timeReference * rate) / sampleRate);
    const made = { ...finish, sampleRate: rate, timeReference: at };
    await writeAll(fileFor(made, channels, framesAt(frames, sampleRate, rate)), pieces);
  } finally {
    disk.close();
    await source?.close();
  }
}
