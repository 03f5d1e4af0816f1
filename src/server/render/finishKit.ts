import { readFileSync } from "node:fs";
import { besideRecord, loudestOf } from "../../core/blend/besideRecord";
import { broadEq, putBroadEq } from "../../core/blend/broadEq";
import { withPath } from "../../core/blend/fitPath";
import { putFinish } from "../../core/blend/kitFinish";
import type { Recipe } from "../../core/blend/recipes";
import { memoryTrial } from "../../core/blend/trial";
import { memoryStretch } from "../../core/engine/memoryStretch";
import { kitOf } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import { drumPieces, type Bus, type ProcessorState, type Song } from "../../core/song/song";
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

/** The loudest of a record on disk, at a song's rate. Errors  Error that names the file. */
async function recordOf(path: string, sampleRate: number): Promise<Float32Array[]> {
  try {
    const read = await decodeFile(new Uint8Array(readFileSync(path)));
    const whole = await resample(read.channels.slice(0, 2), read.sampleRate, sampleRate);
    return loudestOf(whole, sampleRate).stretch;
  } catch (error) {
    throw new Error(`${path}: ${(error as Error).message}`);
  }
}

/** Four broad bands towards a record, by what the kit gives where most is struck. Errors  RangeError in words: too little to compare. */
function fitToRecord(song: Song, audio: Audio, record: readonly Float32Array[]) {
  const { from, stretch } = memoryStretch(song, audio, drumPieces);
  const beside = besideRecord(song, stretch, from, record);
  return putBroadEq(kitOf(song), broadEq(beside.kit.bands, beside.record.bands, song.sampleRate));
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
  const trialOf = (s: Song, bus: Bus, state: ProcessorState) => memoryTrial(s, audio, bus, state);
  let made = song;
  for (const { recipe, level } of paths) {
    made = await withPath(made, recipe, level, trialOf);
    tell(`${recipe.name}: at ${level} dB`);
  }
  for (const way of finishes.filter((f) => finish.includes(f))) {
    const { told, operation } = await (way === "eq"
      ? fitToRecord(made, audio, heard!)
      : putFinish(made, way, trialOf));
    made = applyOperation(made, operation).song;
    tell(`${way}: ${told}`);
  }
  return made;
}
