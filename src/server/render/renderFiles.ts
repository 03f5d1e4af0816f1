import { mkdirSync } from "node:fs";
import { join } from "node:path";
import {
  renderSong,
  type RenderOptions,
  type RenderTargets,
  type SongReader,
} from "../../core/engine/renderSong";
import { responses, responsesOf } from "../../core/engine/responses";
import { asRendered } from "../../core/engine/asRendered";
import type { Song } from "../../core/song/song";
import { WavFile } from "../audio/wavFile";
import { writeFlac } from "../audio/flacFile";
import { outputFiles, type FileFormat } from "./outputFiles";
import { threadedRunner } from "./threads";

/** Collects a whole output in memory, for formats that cannot be written piece by piece. */
class Collected {
  private readonly channels: Float32Array[];
  private at = 0;
  constructor(
    private readonly path: string,
    channels: number,
    private readonly sampleRate: number,
    frames: number,
  ) {
    this.channels = Array.from({ length: channels }, () => new Float32Array(frames));
  }
  write(channels: readonly Float32Array[], frames: number): void {
    channels.forEach((x, ch) => this.channels[ch]!.set(x.subarray(0, frames), this.at));
    this.at += frames;
  }
  close(): void {
    writeFlac(this.path, this.channels, this.sampleRate);
  }
  abandon(): void {}
}

/** Reads a mic of the song as it was recorded, whole. */
export type WholeMic = (index: number) => Float32Array[] | Promise<Float32Array[]>;

/** Brings the impulse responses of a song to its processors. */
async function takeResponses(song: Song, whole: WholeMic | undefined): Promise<void> {
  responses.clear();
  for (const mic of whole ? responsesOf(song) : [])
    responses.putAudio(mic.id, await whole!(song.mics.indexOf(mic)), song.sampleRate);
}

/**
 * Renders a song into files: kit.wav, stems/<file name>, buses/<bus name>. A file appears only when it is whole.
 * Returns the paths in the order of writing. `tap` gets what is written as it is rendered.
 */
export async function renderFiles(
  song: Song,
  reader: SongReader,
  folder: string,
  targets: RenderTargets,
  format: FileFormat,
  { threads, whole, ...options }: RenderOptions & { threads?: number; whole?: WholeMic } = {},
  tap: (name: string, channels: readonly Float32Array[], frames: number) => void = () => {},
): Promise<string[]> {
  const outputs = outputFiles(song, folder, targets, format);
  mkdirSync(folder, { recursive: true });
  if (targets.stems) mkdirSync(join(folder, "stems"), { recursive: true });
  if (targets.buses) mkdirSync(join(folder, "buses"), { recursive: true });
  const files = new Map<string, Collected | WavFile>();
  try {
    await takeResponses(song, whole);
    for (const [name, { path, channels }] of outputs)
      files.set(
        name,
        format === "flac"
          ? new Collected(path, channels, song.sampleRate, song.frames)
          : new WavFile(path, format, channels, song.sampleRate, song.frames),
      );
    const written = asRendered(song);
    await renderSong(
      written,
      reader,
      targets,
      (name, channels, frames) => {
        files.get(name)!.write(channels, frames);
        tap(name, channels, frames);
      },
      { runner: threadedRunner(written, threads), ...options },
    );
    for (const file of files.values()) file.close();
  } catch (error) {
    for (const file of files.values()) file.abandon();
    throw error;
  }
  return [...outputs.values()].map((o) => o.path);
}
