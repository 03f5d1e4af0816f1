import type { SongValues } from "../../core/song/operations";
import type { Mic } from "../../core/song/song";
import { cutOperation } from "../../core/tighten/cuts";
import { stretchOf, type Material } from "../../core/tighten/material";
import { audioOfMics, readStretch } from "../audio/songAudio";
import type { PlacedAudio } from "../audio/storedFrames";
import { pool } from "../db/pool";
import { findSong, lockSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import type { Job } from "./turn";
import { changeLocked } from "../useCases/editSong";

/** What the cuts follow from, as far as it changes with them, what the change is called, and the song it is made on. */
export interface TightenOptions {
  readonly label: string;
  readonly version: number;
  readonly values: Pick<SongValues, "tempo" | "tighten" | "hits" | "detection">;
}

const stale = (): AppError =>
  new AppError("stale", "Strokes, beats or settings were changed meanwhile. Nothing was moved; try again.");
/** What must be as it was when the cuts were planned. */
const plannedFrom = ["hits", "tempo", "tighten", "sections", "detection"] as const;

/** Frames that are read at once: strokes lie near to each other, and one question brings many. */
const windowFrames = 1 << 19;

/** Recorded mics in the store as joints are chosen by them. */
function storedMaterial(placed: readonly PlacedAudio[]): Material {
  let window = { from: 0, to: 0, channels: [] as Float32Array[] };
  return {
    load: async (from, to) => {
      const start = Math.max(0, from);
      if (start < window.from || to > window.to) {
        const count = Math.max(windowFrames, to - start);
        const mics = await readStretch(pool(), placed, start, count);
        window = { from: start, to: start + count, channels: mics.flat() };
      }
      return stretchOf(window.channels, window.from, from, to);
    },
  };
}

/** Plans the cuts of a song with new strokes, beats or settings, and takes all of it as one change that can be undone. */
export async function tightenSong(
  songId: string,
  { label, version, values }: TightenOptions,
  job: Job,
): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  if (row.version !== version) throw stale();
  const song = row.document;
  const material = async (mics: readonly Mic[]) =>
    storedMaterial(await audioOfMics(pool(), songId, { ...song, mics }));
  const operation = await cutOperation(song, values, material, job.report);
  await job.commit(async (db) => {
    const now = await lockSong(db, songId);
    if (!now) throw songGone();
    const same = plannedFrom.every(
      (key) => JSON.stringify(now.document[key]) === JSON.stringify(row.document[key]),
    );
    if (!same) throw stale();
    await changeLocked(db, now, label, operation);
  });
}
