import { judgedFrom, judgedSeconds } from "../../core/hits/judgedStretch";
import { noFacts, type Facts } from "../../core/facts/facts";
import type { Mic, Piece, Song } from "../../core/song/song";
import { stretchesOf } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";

/** A stretch of all mics of a stored song. */
export interface Stretch {
  readonly song: Song;
  readonly facts: Facts;
  /** Song frame at which it begins. */
  readonly from: number;
  /** [mic][channel], as recorded. */
  readonly stretch: Float32Array[][];
}

/** What is made of a stretch: audio from a song frame on. */
export interface MadeStretch {
  readonly from: number;
  readonly channels: readonly Float32Array[];
}

/**
 * All mics over the stretch that holds the most strokes of the drums that `drumsOf` names, or over that which `within` names, s of the
 * recording. Errors  AppError; those of `within`.
 */
export async function stretchOf(
  songId: string,
  drumsOf: (song: Song) => readonly Piece[],
  seconds = judgedSeconds,
  within: (song: Song) => { readonly from: number; readonly seconds: number } | null = () => null,
): Promise<Stretch> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = row.document;
  const wished = within(song);
  const begins = wished ? wished.from : judgedFrom(song, ...drumsOf(song));
  const from = Math.min(song.frames - 1, Math.max(0, Math.round(begins * song.sampleRate)));
  const frames = Math.min(song.frames - from, Math.round((wished?.seconds ?? seconds) * song.sampleRate));
  const read = await stretchesOf(pool(), songId, song);
  return {
    song,
    facts: row.facts ?? noFacts,
    from,
    stretch: await read(from, frames),
  };
}

/** The stretch of a stored song by which one of its mics is judged. Errors  AppError. */
export async function stretchAround(songId: string, mic: string): Promise<Stretch & { readonly found: Mic }> {
  const micIn = (song: Song): Mic => {
    const found = song.mics.find((m) => m.id === mic);
    if (!found) throw new AppError("not_found", "There is no such mic in this song.");
    return found;
  };
  const around = await stretchOf(songId, (song) => [micIn(song).piece]);
  return { ...around, found: micIn(around.song) };
}
