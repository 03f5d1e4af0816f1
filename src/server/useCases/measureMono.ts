import { spreadOver } from "../../core/hits/snippets";
import type { MonoMeasured } from "../../contract";
import { monoCheck, monoFrames } from "../../core/align/monoCheck";
import { stretchesOf } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";

/** Stretches that are looked at, spread over the strokes of the song. */
const stretches = 40;

/** Measures what the stored song loses in mono, by band, with the mics that cause it. Errors  AppError. */
export async function measureMono(songId: string): Promise<MonoMeasured> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = row.document;
  const strokes = song.hits.filter((h) => !h.ghost);
  if (strokes.length === 0)
    throw new AppError("invalid", "There are no strokes to measure by: analyse the kit first.");
  const read = await stretchesOf(pool(), songId, song);
  const chosen = spreadOver(strokes, stretches);
  const cuts: Float32Array[][][] = [];
  for (const { time } of chosen) cuts.push(await read(Math.round(time * song.sampleRate), monoFrames));
  return { bands: monoCheck(song, cuts), strokes: chosen.length };
}
