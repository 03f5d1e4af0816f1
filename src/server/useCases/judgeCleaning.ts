import { judgedFrom, judgedSeconds, type WaysAnswer } from "../../core/clean/judgeWays";
import type { Treatment } from "../../core/facts/treatment";
import { treatmentsOf } from "../../core/clean/treatments";
import { factsNow } from "../../core/facts/factsNow";
import { noFacts } from "../../core/facts/facts";
import { analysisThreads } from "../analysis/threads";
import { audioOfMics, readStretch } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError } from "../errors";

export interface JudgedCleaning extends WaysAnswer {
  readonly ways: readonly Treatment[];
}

/** Measures what every way to clean a mic of the stored song would do to it. Errors  AppError. */
export async function judgeCleaning(songId: string, mic: string): Promise<JudgedCleaning> {
  const row = await findSong(pool(), songId);
  if (!row) throw new AppError("not_found", "This song does not exist any more.");
  const song = row.document;
  const found = song.mics.find((m) => m.id === mic);
  if (!found) throw new AppError("not_found", "There is no such mic in this song.");
  const ways = treatmentsOf(song, found, factsNow(row.document, row.facts ?? noFacts));
  const placed = await audioOfMics(pool(), songId, song);
  const from = Math.round(judgedFrom(song, found.piece) * song.sampleRate);
  const frames = Math.min(song.frames - from, Math.round(judgedSeconds * song.sampleRate));
  const stretch = await readStretch(pool(), placed, from, frames);
  // A thread of its own: the interface's other questions are answered meanwhile.
  const threads = analysisThreads();
  const [answer] = await threads.run("ways", [{ song, mic, ways, from, stretch }]).finally(threads.close);
  return { ways, ...answer! };
}
