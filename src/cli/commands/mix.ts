import { readFileSync, writeFileSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import { parseArgs } from "node:util";
import { memoryReader } from "../../core/engine/renderSong";
import { readAudio } from "../../core/file/audioFile";
import { measureAudio } from "../../core/measure/measureAudio";
import { readSong } from "../../core/song/songFile";
import { steps, type Song, type Step, type TightenSettings } from "../../core/song/song";
import { mixSteps, type MixOptions } from "../../server/render/mixSteps";
import { renderFiles } from "../../server/render/renderFiles";
import { reportHtml } from "../../server/render/report";
import { setPath } from "../setPath";
import { one, print, type Command } from "../command";
import { loadKit } from "./analyse";

const usage = "mix FOLDER --out DIR [--through STEP] [--stems] [--song FILE] [--set PATH=VALUE …]";

const grids: readonly TightenSettings["grid"][] = ["1/4", "1/8", "1/16", "1/8T"];

/** Splits --set into options of the steps and settings of the finished song. */
export function readSettings(pairs: readonly string[]): {
  options: Omit<MixOptions, "through">;
  rest: [string, string][];
} {
  const tighten: Record<string, number | string> = {};
  let bpm: number | undefined;
  const rest: [string, string][] = [];
  const within = (path: string, text: string, min: number, max: number, unit: string): number => {
    const value = Number(text);
    if (!(value >= min && value <= max))
      throw new Error(`${path} is ${JSON.stringify(text)}; it must lie between ${min} and ${max}${unit}`);
    return value;
  };
  for (const pair of pairs) {
    const at = pair.indexOf("=");
    if (at < 1) throw new Error(`--set wants PATH=VALUE, not ${JSON.stringify(pair)}`);
    const path = pair.slice(0, at);
    const text = pair.slice(at + 1);
    if (path === "tempo.bpm") bpm = within(path, text, 30, 300, " bpm");
    else if (path === "tighten.strength") tighten["strength"] = within(path, text, 0, 1, "");
    else if (path === "tighten.window") tighten["window"] = within(path, text, 0, 0.1, " s");
    else if (path === "tighten.largest") tighten["largest"] = within(path, text, 0, 0.2, " s");
    else if (path === "tighten.grid") {
      if (!(grids as readonly string[]).includes(text))
        throw new Error(`tighten.grid is ${JSON.stringify(text)}; it must be one of ${grids.join(", ")}`);
      tighten["grid"] = text;
    } else rest.push([path, text]);
  }
  // A full move wants every stroke on the grid, also those that lie close.
  if (tighten["strength"] === 1 && tighten["window"] === undefined) tighten["window"] = 0;
  return {
    options: { tighten: tighten as Partial<TightenSettings>, ...(bpm === undefined ? {} : { bpm }) },
    rest,
  };
}

export const mix: Command = {
  usage,
  help: "Takes the proposals of all steps up to STEP and writes kit.wav, song.json, report.html and the stems to DIR.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: {
        out: { type: "string" },
        through: { type: "string" },
        stems: { type: "boolean" },
        song: { type: "string" },
        set: { type: "string", multiple: true },
      },
    });
    const folder = one(positionals, usage);
    if (!values.out) throw new Error(`usage: jubo ${usage}`);
    const through = (values.through ?? "deliver") as Step;
    if (!steps.includes(through)) throw new Error(`unknown step "${through}"; known: ${steps.join(", ")}`);
    const { options, rest } = readSettings(values.set ?? []);
    const { sampleRate, mics } = await loadKit(folder);
    const mixed = await mixSteps(basename(resolve(folder)), mics, sampleRate, { ...options, through });
    let song: Song = values.song ? readSong(JSON.parse(readFileSync(values.song, "utf8"))) : mixed.song;
    for (const [path, text] of rest) song = setPath(song, path, text);
    const audio = song.mics.map(
      (m) => mics.find((x) => x.file === m.file)?.channels ?? [new Float32Array(0), new Float32Array(0)],
    );
    const targets = { kit: true, stems: values.stems ?? false, buses: false };
    const paths = await renderFiles(song, memoryReader(audio), values.out, targets, "wav24");
    writeFileSync(join(values.out, "song.json"), JSON.stringify(song, null, 1));
    const kit = readAudio(new Uint8Array(readFileSync(paths[0]!)));
    writeFileSync(
      join(values.out, "report.html"),
      reportHtml({ ...mixed, song }, measureAudio(kit.channels, sampleRate)),
    );
    print(`${paths.length + 2} files in ${values.out}`);
  },
};
