import { existsSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { memoryReader } from "../../core/engine/renderSong";
import { respeed } from "../../core/signal/respeed";
import { readSong } from "../../core/song/songFile";
import type { Song } from "../../core/song/song";
import { decodeFile } from "../../server/audio/decodeFile";
import { resample } from "../../server/audio/resample";
import { fileFormats, type FileFormat } from "../../server/render/outputFiles";
import { renderFiles } from "../../server/render/renderFiles";
import { setPath } from "../setPath";
import { one, print, type Command } from "../command";

const usage =
  "render SONG.json --audio FOLDER --out DIR [--stems] [--buses] [--format wav16|wav24|wav32f|flac] [--threads N] [--set PATH=VALUE …]";

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
    const audio: Float32Array[][] = [];
    for (const mic of song.mics) {
      const file = join(values.audio, mic.file);
      if (!existsSync(file)) throw new Error(`${file} is missing; the song needs it`);
      const read = await decodeFile(new Uint8Array(readFileSync(file)));
      if (read.channels.length !== mic.channels)
        throw new Error(`${file} has ${read.channels.length} channels, the song expects ${mic.channels}`);
      const channels = await resample(read.channels, read.sampleRate, song.sampleRate);
      audio.push(mic.clockPpm === 0 ? channels : channels.map((x) => respeed(x, mic.clockPpm)));
    }
    const targets = { kit: true, stems: values.stems ?? false, buses: values.buses ?? false };
    const threads = values.threads === undefined ? undefined : Number(values.threads);
    if (threads !== undefined && !(Number.isInteger(threads) && threads >= 1 && threads <= 256))
      throw new Error(`--threads is "${values.threads}"; it must be a whole number from 1 to 256`);
    const options = { whole: (i: number) => audio[i]!, ...(threads === undefined ? {} : { threads }) };
    const paths = await renderFiles(song, memoryReader(audio), values.out, targets, format, options);
    print(`${paths.length} files in ${values.out}`);
  },
};
