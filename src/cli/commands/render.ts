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
import {
  deliveryRates,
  dithers,
  fileFormats,
  targets,
  usualDelivery,
  type Delivery,
} from "../../core/deliver/delivery";
import { verdictsOf } from "../../core/deliver/checks";
import { renderFiles } from "../../server/render/renderFiles";
import { setPath } from "../setPath";
import { one, print, remark, type Command } from "../command";

const usage =
  "render SONG.json --audio FOLDER --out DIR [--stems] [--buses] [--format wav16|wav24|wav32f|flac] [--dither triangular|shaped] [--rate HZ] [--section NAME] [--tail SECONDS] [--names PATTERN] [--target none|lufs14|lufs23|peak1] [--limit] [--threads N] [--set PATH=VALUE …]";

type Given = Readonly<Record<string, string | boolean | undefined>>;

/** One of some values. Errors  Error that names the option and what it takes. */
function oneOf<T extends string>(option: string, text: unknown, known: readonly T[], usual: T): T {
  if (text === undefined) return usual;
  const found = known.find((k) => k === text);
  if (!found) throw new Error(`--${option} is "${String(text)}"; known: ${known.join(", ")}`);
  return found;
}

/** What is asked for. Errors  Error that names the option and what is usable. */
function deliveryOf(song: Song, given: Given): Delivery {
  const rate = given["rate"] === undefined ? null : Number(given["rate"]);
  if (rate !== null && !(deliveryRates as readonly number[]).includes(rate))
    throw new Error(`--rate is "${String(given["rate"])}"; known: ${deliveryRates.join(", ")}`);
  const name = given["section"];
  const section = song.sections.find((s) => s.id === name || s.name === name);
  if (name !== undefined && !section)
    throw new Error(
      `--section is "${String(name)}"; known: ${song.sections.map((s) => s.name).join(", ") || "none"}`,
    );
  return {
    ...usualDelivery,
    beside: true,
    stems: given["stems"] === true,
    buses: given["buses"] === true,
    limit: given["limit"] === true,
    format: oneOf("format", given["format"], fileFormats, "wav24"),
    dither: oneOf("dither", given["dither"], dithers, "triangular"),
    target: oneOf("target", given["target"], Object.keys(targets) as (keyof typeof targets)[], "none"),
    sampleRate: rate === song.sampleRate ? null : rate,
    section: section?.id ?? null,
    tail: Number(given["tail"] ?? 0),
    names: typeof given["names"] === "string" ? given["names"] : "{name}",
  };
}

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
        dither: { type: "string" },
        rate: { type: "string" },
        section: { type: "string" },
        tail: { type: "string" },
        names: { type: "string" },
        target: { type: "string" },
        limit: { type: "boolean" },
        threads: { type: "string" },
        set: { type: "string", multiple: true },
      },
    });
    const path = one(positionals, usage);
    if (!values.audio || !values.out) throw new Error(`usage: jubo ${usage}`);
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
    const delivery = deliveryOf(song, values as Given);
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
      const { paths, delivered } = await renderFiles(song, reader, values.out, delivery, options);
      print(`${paths.length} files in ${values.out}`);
      for (const { name, figure, grade, reason } of verdictsOf(song, delivery, delivered))
        if (grade !== "passes") remark(`${name}: ${figure}: ${reason}`);
    } finally {
      for (const mic of mics) mic.close();
    }
  },
};
