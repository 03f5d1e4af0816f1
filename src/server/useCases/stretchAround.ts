import { judgedFrom, judgedSeconds } from "../../core/clean/judgeWays";
import { noFacts, type Facts } from "../../core/facts/facts";
import type { Mic, Song } from "../../core/song/song";
import { audioOfMics, readStretch } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError } from "../errors";

/** The stretch of a stored song by which one of its mics is judged. */
interface JudgedStretch {
  readonly song: Song;
  readonly found: Mic;
  readonly facts: Facts;
  /** Song frame at which it begins. */
  readonly from: number;
  /** [mic][channel], as recorded. */
  readonly stretch: Float32Array[][];
}

/** All mics over the stretch that holds the most strokes of one mic's drum. Errors  AppError. */
export async function stretchAround(songId: string, mic: string): Promise<JudgedStretch> {
  const row = await findSong(pool(), songId);
  if (!row) throw new AppError("not_found", "This song does not exist any more.");
  const song = row.document;
  const found = song.mics.find((m) => m.id === mic);
  if (!found) throw new AppError("not_found", "There is no such mic in this song.");
  const placed = await audioOfMics(pool(), songId, song);
  const from = Math.round(judgedFrom(song, found.piece) * song.sampleRate);
  const frames = Math.min(song.frames - from, Math.round(judgedSeconds * song.sampleRate));
  return {
    song,
    found,
    facts: row.facts ?? noFacts,
    from,
    stretch: await readStretch(pool(), placed, from, frames),
  };
}
