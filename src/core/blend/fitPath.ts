import { firstOf } from "../song/create";
import { applyOperation } from "../song/operations";
import type { Bus, ProcessorState, Song } from "../song/song";
import { pathOf, type Recipe } from "./recipes";
import type { Trial } from "./trial";

/** Most and least make-up of a path, dB. */
const makeupRange = [0, 30] as const;

/** Threshold and make-up of a path's compressor: half of the strokes that come into it are brought down by so much, and stay as loud. */
export async function fitPath(trial: Trial, wishedDb: number): Promise<ProcessorState["params"]> {
  const threshold = await trial.threshold({}, wishedDb);
  const { louder } = await trial.effect({ threshold });
  const makeup = Math.round(10 * Math.min(makeupRange[1], Math.max(makeupRange[0], -louder))) / 10;
  return { threshold, makeup };
}

/** A song with the path of a recipe, fitted where the recipe is, at a level in dB. `trialOf`: of the path's compressor. Errors  as `pathOf`. */
export async function withPath(
  song: Song,
  recipe: Recipe,
  level: number,
  trialOf: (song: Song, bus: Bus, state: ProcessorState) => Trial,
): Promise<Song> {
  const plain = pathOf(song, recipe);
  const would = applyOperation(song, plain.operation).song;
  const bus = would.buses.find((b) => b.id === plain.id)!;
  const compressor = firstOf(bus, "compressor");
  const fitted =
    recipe.wishedDb === null || !compressor
      ? {}
      : await fitPath(trialOf(would, bus, compressor), recipe.wishedDb);
  const made = applyOperation(song, pathOf(song, recipe, { fitted }).operation).song;
  return applyOperation(made, { op: "setBus", bus: plain.id, values: { level } }).song;
}
