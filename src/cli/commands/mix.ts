import { readFileSync, writeFileSync } from "node:fs";
import { basename, join, resolve } from "node:path";
import { parseArgs } from "node:util";
import { writeWav } from "../../core/file/wavWrite";
import { memoryReader } from "../../core/engine/renderSong";
import { readSong } from "../../core/song/songFile";
import { newShaping } from "../../core/song/create";
import {
  drumPieces,
  flavours,
  grids,
  quickControls,
  steps,
  type ShapingSettings,
  type Song,
  type Step,
  type TightenSettings,
} from "../../core/song/song";
import type { QuickWishes } from "../../core/shape/quick/quickSong";
import { mixSteps, type MixOptions } from "../../server/render/mixSteps";
import { usualDelivery } from "../../core/deliver/delivery";
import { withLoopApart, type PartFile } from "../../server/render/loopFiles";
import { withLayer, type LayerWish } from "../../server/render/layerFiles";
import { finishes, finishKit, type FinishWishes } from "../../server/render/finishKit";
import { renderFiles } from "../../server/render/renderFiles";
import { reportHtml } from "../../server/render/report";
import type { NumberParam } from "../../core/params";
import { recipes } from "../../core/blend/recipes";
import { levelParam, tightenParams } from "../../core/song/limits";
import { setPath } from "../setPath";
import { one, print, type Command } from "../command";
import { loadKit } from "./analyse";

const usage =
  "mix FOLDER --out DIR [--through STEP] [--stems] [--song FILE] [--loop FILE …] [--layer DRUM=FILE[,FILE …] …] [--path RECIPE=DB …] [--finish glue,rounding,eq] [--record FILE] [--set PATH=VALUE …]";

/** Options of Tighten by their paths: how each reads its text. Errors  Error that names the path and what is usable. */
const tightenOptions: Record<string, (path: string, text: string) => Partial<TightenSettings>> = {
  "tighten.strength": (p, t) => ({ strength: inRange(p, t, tightenParams.strength) }),
  "tighten.window": (p, t) => ({ window: inRange(p, t, tightenParams.window) }),
  "tighten.largest": (p, t) => ({ largest: inRange(p, t, tightenParams.largest) }),
  "tighten.swing": (p, t) => ({ swing: inRange(p, t, tightenParams.swing) }),
  "tighten.grid": (p, t) => ({ grid: oneOf(p, t, grids) }),
  "tighten.between": (p, t) => ({ between: oneOf(p, t, ["nearest", "spread"] as const) }),
  "tighten.keepLean": (p, t) => ({ keepLean: oneOf(p, t, ["true", "false"] as const) === "true" }),
  "tighten.alone": (p, t) => ({ alone: t.split(",").map((piece) => oneOf(p, piece.trim(), drumPieces)) }),
  "tighten.leaders": (p, t) => ({ leaders: t.split(",").map((piece) => oneOf(p, piece.trim(), drumPieces)) }),
};

const inRange = (path: string, text: string, { min, max, unit }: NumberParam): number =>
  within(path, text, min, max, unit && ` ${unit}`);
function within(path: string, text: string, min: number, max: number, unit: string): number {
  const value = Number(text);
  if (!(value >= min && value <= max))
    throw new Error(`${path} is ${JSON.stringify(text)}; it must lie between ${min} and ${max}${unit}`);
  return value;
}
function oneOf<T extends string>(path: string, text: string, known: readonly T[], what = ""): T {
  if (!(known as readonly string[]).includes(text))
    throw new Error(
      `${path}${what && `: its ${what}`} is ${JSON.stringify(text)}; it must be one of ${known.join(", ")}`,
    );
  return text as T;
}

/** Splits --set into options of the steps and settings of the finished song. */
export function readSettings(pairs: readonly string[]): {
  options: Omit<MixOptions, "through">;
  rest: [string, string][];
} {
  let tighten: Partial<TightenSettings> = {};
  let tempo: Pick<MixOptions, "bpm" | "follow"> = {};
  let shaping: ShapingSettings = newShaping();
  let quick: QuickWishes = {};
  const rest: [string, string][] = [];
  for (const pair of pairs) {
    const at = pair.indexOf("=");
    if (at < 1) throw new Error(`--set wants PATH=VALUE, not ${JSON.stringify(pair)}`);
    const path = pair.slice(0, at);
    const text = pair.slice(at + 1);
    if (path === "tempo.bpm") tempo = { ...tempo, bpm: within(path, text, 30, 300, " bpm") };
    else if (path === "tempo.follow")
      tempo = { ...tempo, follow: oneOf(path, text, ["never", "always"] as const) };
    else if (path === "shaping.flavour") shaping = { ...shaping, flavour: oneOf(path, text, flavours) };
    else if (path.startsWith("shaping."))
      shaping = {
        ...shaping,
        byPiece: {
          ...shaping.byPiece,
          [oneOf(path, path.slice(8), drumPieces)]: oneOf(path, text, flavours),
        },
      };
    else if (path.startsWith("quick.")) {
      const [, drum, control] = path.split(".");
      const of = oneOf(path, drum ?? "", [...drumPieces, "kit"] as const, "drum");
      const turned = oneOf(path, control ?? "", quickControls, "control");
      quick = { ...quick, [of]: { ...quick[of], [turned]: within(path, text, -100, 100, "") } };
    } else if (tightenOptions[path]) tighten = { ...tighten, ...tightenOptions[path](path, text) };
    else rest.push([path, text]);
  }
  // A full move wants every stroke on the grid, also those that lie close.
  if (tighten.strength === 1 && tighten.window === undefined) tighten = { ...tighten, window: 0 };
  return { options: { tighten, shaping, quick, ...tempo }, rest };
}

/** DRUM=FILE or DRUM=FILE,FILE. Errors  Error that says what is usable. */
function readLayerWish(text: string): LayerWish {
  const at = text.indexOf("=");
  const files = text
    .slice(at + 1)
    .split(",")
    .filter((f) => f.trim() !== "");
  if (at < 1 || files.length === 0) throw new Error(`--layer wants DRUM=FILE, not ${JSON.stringify(text)}`);
  return { drum: oneOf("--layer", text.slice(0, at), drumPieces, "drum"), files };
}

/** RECIPE=DB. Errors  Error that says what is usable. */
function readPathWish(text: string): FinishWishes["paths"][number] {
  const [id = "", level = ""] = text.split("=");
  const known = recipes.map((r) => r.id);
  const recipe = recipes.find((r) => r.id === oneOf("--path", id, known))!;
  if (level.trim() === "") throw new Error(`--path wants RECIPE=DB, as in ${id}=-12`);
  return { recipe, level: inRange(`--path ${id}`, level, levelParam) };
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
        layer: { type: "string", multiple: true },
        loop: { type: "string", multiple: true },
        path: { type: "string", multiple: true },
        finish: { type: "string" },
        record: { type: "string" },
        set: { type: "string", multiple: true },
      },
    });
    const folder = one(positionals, usage);
    if (!values.out) throw new Error(`usage: jubo ${usage}`);
    const through = (values.through ?? "deliver") as Step;
    if (!steps.includes(through)) throw new Error(`unknown step "${through}"; known: ${steps.join(", ")}`);
    const { options, rest } = readSettings(values.set ?? []);
    const wishes = (values.layer ?? []).map(readLayerWish);
    const finish: FinishWishes = {
      paths: (values.path ?? []).map(readPathWish),
      finish: (values.finish?.split(",") ?? []).map((f) => oneOf("--finish", f.trim(), finishes)),
      record: values.record ?? null,
    };
    const { sampleRate, mics } = await loadKit(folder);
    const mixed = await mixSteps(basename(resolve(folder)), mics, sampleRate, { ...options, through });
    let song: Song = values.song ? readSong(JSON.parse(readFileSync(values.song, "utf8"))) : mixed.song;
    const audioOf = new Map(mixed.mics.map((m) => [m.file, m.channels]));
    /** What is played beside the folder's files. */
    const made: PartFile[] = [];
    for (const file of values.loop ?? []) {
      const { parts, ...apart } = withLoopApart(song, file, audioOf);
      song = apart.song;
      for (const part of parts) audioOf.set(part.file, part.channels);
      made.push(...parts);
    }
    for (const wish of wishes) {
      const { file, channels, ...layered } = await withLayer(song, wish, audioOf);
      song = layered.song;
      audioOf.set(file, channels);
      made.push({ file, channels });
    }
    const audio = song.mics.map((m) => audioOf.get(m.file) ?? [new Float32Array(0), new Float32Array(0)]);
    song = await finishKit(song, audio, finish, print);
    // What is set by hand holds, also over what was fitted.
    for (const [path, text] of rest) song = setPath(song, path, text);
    const delivery = { ...usualDelivery, names: "{name}", stems: values.stems ?? false, beside: true };
    const { paths, delivered } = await renderFiles(song, memoryReader(audio), values.out, delivery, {
      whole: (i) => audio[i]!,
    });
    for (const { file, channels } of made)
      writeFileSync(join(values.out, file), writeWav({ sampleRate, channels }, "wav32f"));
    writeFileSync(join(values.out, "song.json"), JSON.stringify(song, null, 1));
    writeFileSync(join(values.out, "report.html"), reportHtml({ ...mixed, song }, delivered.kit));
    print(`${paths.length + 2 + made.length} files in ${values.out}`);
  },
};
