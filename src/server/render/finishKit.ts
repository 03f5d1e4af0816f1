import { readFileSync } from "node:fs";
import { besideRecord, loudestFrom } from "../../core/blend/besideRecord";
import { broadEq, putBroadEq } from "../../core/blend/broadEq";
import { withPath } from "../../core/blend/fitPath";
import { fitGlue, fitRounding, glue, rounding, type Fitted } from "../../core/blend/kitFinish";
import type { Recipe } from "../../core/blend/recipes";
import { memoryTrial, type Trial } from "../../core/blend/trial";
import { memoryStretch } from "../../core/engine/memoryStretch";
import { judgedSeconds } from "../../core/hits/judgedStretch";
import { firstOf } from "../../core/song/create";
import { kitOf } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import { putProcessor } from "../../core/song/putProcessor";
import { drumPieces, type Song } from "../../core/song/song";
import { resample } from "../audio/convert";
import { decodeFile } from "../audio/decodeFile";

export const finishes = ["glue", "rounding", "eq"] as const;
export type Finish = (typeof finishes)[number];

/** What a kit gets beyond the proposals: paths at a level in dB, what stands at its end, and the record that an EQ leans on. */
export interface FinishWishes {
  readonly paths: readonly { readonly recipe: Recipe; readonly level: number }[];
  readonly finish: readonly Finish[];
  /** Path of an audio file; null: none. */
  readonly record: string | null;
}
type Audio = readonly (readonly Float32Array[])[];

/** The processor whose values are sought over the strokes, and how. */
const soughtBy: Readonly<
  Record<
    Exclude<Finish, "eq">,
    { type: string; params: Fitted["params"]; fit: (trial: Trial) => Promise<Fitted> }
  >
> = {
  glue: { type: "compressor", params: glue, fit: fitGlue },
  rounding: { type: "saturation", params: rounding, fit: fitRounding },
};

async function withSought(
  song: Song,
  audio: Audio,
  way: Exclude<Finish, "eq">,
): Promise<{ song: Song; told: string }> {
  const { type, params, fit } = soughtBy[way];
  const put = (values: Fitted["params"]) =>
    applyOperation(song, putProcessor(kitOf(song), type, values, true)).song;
  const would = put(params);
  const { told, params: found } = await fit(
    memoryTrial(would, audio, kitOf(would), firstOf(kitOf(would), type)!),
  );
  return { song: put(found), told };
}

/** The loudest of a record on disk, at a song's rate. Errors  Error that names the file. */
async function recordOf(path: string, sampleRate: number): Promise<Float32Array[]> {
  try {
    const read = await decodeFile(new Uint8Array(readFileSync(path)));
    const whole = await resample(read.channels.slice(0, 2), read.sampleRate, sampleRate);
    const seconds = Math.max(1, Math.min(judgedSeconds, Math.floor(whole[0]!.length / sampleRate)));
    const at = loudestFrom(whole, sampleRate, seconds);
    return whole.map((x) => x.slice(at, at + seconds * sampleRate));
  } catch (error) {
    throw new Error(`${path}: ${(error as Error).message}`);
  }
}

/** The kit with four broad bands towards a record. Errors  Error in words: too little to compare. */
function withBroadEq(
  song: Song,
  audio: Audio,
  record: readonly Float32Array[],
): { song: Song; told: string } {
  const { from, stretch } = memoryStretch(song, audio, drumPieces);
  const beside = besideRecord(song, stretch, from, record);
  const found = broadEq(beside.kit.bands, beside.record.bands, song.sampleRate);
  if (!found) throw new Error("too little of the kit and the record can be compared by third octave");
  const told = `mean difference from the record by third octave ${found.before.toFixed(1)} dB, with it ${found.after.toFixed(1)} dB`;
  return { song: applyOperation(song, putBroadEq(kitOf(song), found).operation).song, told };
}

/**
 * A song with paths and a finish fitted to it; `tell` gets a line for each. Shape  audio [mic][channel] as recorded, from each mic's start on.
 * Errors  Error in one line: no mic for a path, a record that cannot be read or is not there for the EQ.
 */
export async function finishKit(
  song: Song,
  audio: Audio,
  { paths, finish, record }: FinishWishes,
  tell: (line: string) => void,
): Promise<Song> {
  const heard = record === null ? null : await recordOf(record, song.sampleRate);
  if (finish.includes("eq") && !heard) throw new Error("--finish eq leans on a record: name it by --record");
  let made = song;
  for (const { recipe, level } of paths) {
    made = await withPath(made, recipe, level, (s, bus, state) => memoryTrial(s, audio, bus, state));
    tell(`${recipe.name}: at ${level} dB`);
  }
  for (const way of finishes.filter((f) => finish.includes(f))) {
    const { song: next, told } =
      way === "eq" ? withBroadEq(made, audio, heard!) : await withSought(made, audio, way);
    made = next;
    tell(`${way}: ${told}`);
  }
  return made;
}
