import { mkdirSync } from "node:fs";
import { join, parse } from "node:path";
import {
  renderSong,
  type RenderOptions,
  type RenderTargets,
  type SongReader,
} from "../../core/engine/renderSong";
import type { Song } from "../../core/song/song";
import { WavFile } from "../audio/wavFile";
import { writeFlac } from "../audio/flacFile";
import { threadedRunner } from "./threads";
import type { WriteFormat } from "../../core/file/wavWrite";

export type FileFormat = WriteFormat | "flac";
export const fileFormats: readonly FileFormat[] = ["wav16", "wav24", "wav32f", "flac"];

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

/** File name that is safe on every system. */
const safe = (name: string): string => name.replace(/[\\/:*?"<>|\p{Cc}]+/gu, "-").trim() || "unnamed";

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
  options: RenderOptions & { threads?: number } = {},
  tap: (name: string, channels: readonly Float32Array[], frames: number) => void = () => {},
): Promise<string[]> {
  const extension = format === "flac" ? ".flac" : ".wav";
  const outputs = new Map<string, { path: string; channels: number }>();
  if (targets.kit) outputs.set("kit", { path: join(folder, `kit${extension}`), channels: 2 });
  if (targets.stems)
    for (const m of song.mics)
      outputs.set(`stem:${m.id}`, {
        path: join(
          folder,
          "stems",
          safe(parse(m.file).name) + (format === "flac" ? ".flac" : parse(m.file).ext || ".wav"),
        ),
        channels: m.channels,
      });
  if (targets.buses)
    for (const b of song.buses)
      outputs.set(`bus:${b.id}`, { path: join(folder, "buses", safe(b.name) + extension), channels: 2 });
  mkdirSync(folder, { recursive: true });
  if (targets.stems) mkdirSync(join(folder, "stems"), { recursive: true });
  if (targets.buses) mkdirSync(join(folder, "buses"), { recursive: true });
  const files = new Map(
    [...outputs].map(([name, { path, channels }]) => [
      name,
      format === "flac"
        ? new Collected(path, channels, song.sampleRate, song.frames)
        : new WavFile(path, format, channels, song.sampleRate, song.frames),
    ]),
  );
  try {
    await renderSong(
      song,
      reader,
      targets,
      (name, channels, frames) => {
        files.get(name)!.write(channels, frames);
        tap(name, channels, frames);
      },
      { runner: threadedRunner(song, options.threads), ...options },
    );
    for (const file of files.values()) file.close();
  } catch (error) {
    for (const file of files.values()) file.abandon();
    throw error;
  }
  return [...outputs.values()].map((o) => o.path);
}
