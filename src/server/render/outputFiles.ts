import { join, parse } from "node:path";
import { uniqueName } from "../../core/file/uniqueName";
import type { RenderTargets } from "../../core/engine/renderSong";
import type { WriteFormat } from "../../core/file/wavWrite";
import type { Song } from "../../core/song/song";

export type FileFormat = WriteFormat | "flac";
export const fileFormats: readonly FileFormat[] = ["wav16", "wav24", "wav32f", "flac"];

/** One file of a render: where it goes, and how wide it is. */
export interface OutputFile {
  readonly path: string;
  readonly channels: number;
}

/** Longest name of a file without its ending, in characters: with the ending it fits every usual file system. */
const longestName = 120;

/** File name that is safe on every system; never empty, no name of a device, no dot or space at its end. */
const safe = (name: string): string => {
  const plain = name
    .replace(/[\\/:*?"<>|\p{Cc}]+/gu, "-")
    .slice(0, longestName)
    .replace(/[. ]+$/u, "")
    .trim();
  return plain === "" ? "unnamed" : /^(con|prn|aux|nul|com\d|lpt\d)$/i.test(plain) ? `${plain}-` : plain;
};

/**
 * Files of a render by the name of its output: kit, stems/<file name>, buses/<bus name>, every one with a path of its own and
 * the ending of what is written, whatever came in.
 */
export function outputFiles(song: Song, folder: string, targets: RenderTargets, format: FileFormat): Map<string, OutputFile> {
  const ending = format === "flac" ? ".flac" : ".wav";
  const outputs = new Map<string, OutputFile>();
  if (targets.kit) outputs.set("kit", { path: join(folder, `kit${ending}`), channels: 2 });
  const put = (id: string, below: string, name: string, channels: number, others: string[]): void => {
    const file = uniqueName(safe(name) + ending, others);
    others.push(file);
    outputs.set(id, { path: join(folder, below, file), channels });
  };
  const stems: string[] = [];
  if (targets.stems)
    for (const m of song.mics) put(`stem:${m.id}`, "stems", parse(m.file).name, m.channels, stems);
  const buses: string[] = [];
  if (targets.buses) for (const b of song.buses) put(`bus:${b.id}`, "buses", b.name, 2, buses);
  return outputs;
} // prettier-ignore
