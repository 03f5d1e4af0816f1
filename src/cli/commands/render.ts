import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { memoryReader, type SongReader } from "../../core/engine/renderSong";
import type { ReadSource } from "../../core/engine/timeline";
import { respeed } from "../../core/signal/respeed";
import { readSong } from "../../core/song/songFile";
import type { Mic, Song } from "../../core/song/song";
import { decodeFile } from "../../server/audio/decodeFile";
import { DiskMic } from "../../server/audio/diskMic";
import { resample } from "../../server/audio/convert";
import { fileFormats, type FileFormat } from "../../server/render/outputFiles";
import { renderFiles } from "../../server/render/renderFiles";
import { setPath } from "../setPath";
import { one, print, type Command } from "../command";

const usage =
  "render SONG.json --audio FOLDER --out DIR [--stems] [--buses] [--format wav16|wav24|wav32f|flac] [--threads N] [--set PATH=VALUE …]";

/** A mic of the song on disk or in memory. */
interface OpenMic {
  source(channel: number): ReadSource;
  whole(): Float32Array[];
  close(): void;
}

/** A file as the song needs it: read piece by piece where it fits as it is, else decoded, resampled and respeeded in memory. */
async function openMic(file: string, mic: Mic, sampleRate: number): Promise<OpenMic> {
  if (!existsSync(file)) throw new Error(`${file} is missing; the song needs it`);
  const fits = (channels: number) => {
    if (channels !== mic.channels)
      throw new Error(`${file} has ${channels} channels, the song expects ${mic.channels}`);
  };
  const disk = DiskMic.open(file);
  if (disk?.info.sampleRate === sampleRate && disk.info.channels === mic.channels && mic.clockPpm === 0)
    return disk;
  disk?.close();
  const read = await decodeFile(new Uint8Array(readFileSync(file)));
  fits(read.channels.length);
  const even = await resample(read.channels, read.sampleRate, sampleRate);
  const channels = mic.clockPpm === 0 ? even : even.map((x) => respeed(x, mic.clockPpm));
  const memory = memoryReader([channels]);
  return { source: (channel) => memory(0, channel), whole: () => channels, close: () => {} };
}

export const render: Command = {
  usage,
  help: "Renders a saved song from the files in FOLDER.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        audio: { type: "string" },
        out: { type: "string" },
        stems: { type: "boolean" },
        buses: { type: "boolean" },
        format: { type: "string" },
        threads: { type: "string" },
        set: { type: "string", multiple: true },
      },
    });
    const path = one(positionals, usage);
    if (!values.audio || !values.out) throw new Error(`usage: jubo ${usage}`);
    const format = (values.format ?? "wav24") as FileFormat;
    if (!fileFormats.includes(format))
      throw new Error(`unknown format "${format}"; known: ${fileFormats.join(", ")}`);
    let song: Song;
    try {
      song = readSong(JSON.parse(readFileSync(path, "utf8")));
    } catch (error) {
      throw new Error(`${path}: ${error instanceof Error ? error.message : String(error)}`);
    }
    for (const pair of values.set ?? []) {
      const at = pair.indexOf("=");
      if (at < 1) throw new Error(`--set wants PATH=VALUE, not ${JSON.stringify(pair)}`);
      song = setPath(song, pair.slice(0, at), pair.slice(at + 1));
    }
    const targets = { kit: true, stems: values.stems ?? false, buses: values.buses ?? false };
    const threads = values.threads === undefined ? undefined : Number(values.threads);
    if (threads !== undefined && !(Number.isInteger(threads) && threads >= 1 && threads <= 256))
      throw new Error(`--threads is "${values.threads}"; it must be a whole number from 1 to 256`);
    const mics: OpenMic[] = [];
    try {
      for (const mic of song.mics)
        mics.push(await openMic(join(values.audio, mic.file), mic, song.sampleRate));
      const options = {
        whole: (i: number) => mics[i]!.whole(),
        ...(threads === undefined ? {} : { threads }),
      };
      const reader: SongReader = (mic, channel) => mics[mic]!.source(channel);
      const paths = await renderFiles(song, reader, values.out, targets, format, options);
      print(`${paths.length} files in ${values.out}`);
    } finally {
      for (const mic of mics) mic.close();
    }
  },
};
