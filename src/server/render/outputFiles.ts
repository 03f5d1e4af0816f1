import { join, parse } from "node:path";
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

/** A name that no other one of its folder has, also where capitals do not count. */
function unique(name: string, taken: Set<string>): string {
  let now = name;
  for (let n = 2; taken.has(now.toLowerCase()); n++) now = `${name} (${n})`;
  taken.add(now.toLowerCase());
  return now;
}

/**
 * Files of a render by the name of its output: kit, stems/<file name>, buses/<bus name>, every one with a path of its own and
 * the ending of what is written, whatever came in.
 */
export function outputFiles(song: Song, folder: string, targets: RenderTargets, format: FileFormat): Map<string, OutputFile> {
  const ending = format === "flac" ? ".flac" : ".wav";
  const outputs = new Map<string, OutputFile>();
  if (targets.kit) outputs.set("kit", { path: join(folder, `kit${ending}`), channels: 2 });
  const stems = new Set<string>();
  if (targets.stems)
    for (const m of song.mics) {
      const name = unique(safe(parse(m.file).name), stems);
      outputs.set(`stem:${m.id}`, { path: join(folder, "stems", name + ending), channels: m.channels });
    }
  const buses = new Set<string>();
  if (targets.buses)
    for (const b of song.buses) {
      const name = unique(safe(b.name), buses);
      outputs.set(`bus:${b.id}`, { path: join(folder, "buses", name + ending), channels: 2 });
    }
  return outputs;
} // prettier-ignore
