import { clockLeft, noFacts } from "../../core/facts/facts";
import { addCorrectedCopy } from "../audio/playable";
import { pool } from "../db/pool";
import { findAudio } from "../db/queries/audio";
import { findSong, lockSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import type { Job } from "./turn";
import { changeLocked } from "../useCases/editSong";

/** Largest correction, ppm: two crystals never differ by more. */
const mostPpm = 500;

/** Corrects the clocks of some mics by what the analysis has found, as one change that can be undone. */
export async function correctClocks(songId: string, mics: readonly string[], job: Job): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const facts = { ...noFacts, ...row.facts };
  const wanted = row.document.mics.filter((m) => mics.includes(m.id) && clockLeft(facts, m) !== 0);
  if (wanted.length === 0) throw new AppError("invalid", "No clock of these mics is known to run off.");
  await job.commit(async (db) => {
    const operations = [];
    for (const [i, mic] of wanted.entries()) {
      const ppm = clockLeft(facts, mic);
      if (Math.abs(ppm) > mostPpm)
        throw new AppError(
          "invalid",
          `${mic.file} would be corrected by ${ppm} ppm; at most ${mostPpm} are believed.`,
        );
      const audio = await findAudio(db, mic.audio!);
      if (!audio) throw new AppError("not_found", `The audio of ${mic.file} is missing from the store.`);
      const { audioId, frames } = await addCorrectedCopy(db, songId, audio, mic.file, ppm);
      operations.push({
        op: "setMic" as const,
        mic: mic.id,
        values: { audio: audioId, frames, clockPpm: mic.clockPpm + ppm },
      });
      job.report((i + 1) / wanted.length, `mic ${i + 1} of ${wanted.length}`);
    }
    const now = await lockSong(db, songId);
    if (!now) throw songGone();
    if (wanted.some((mic) => now.document.mics.find((m) => m.id === mic.id)?.audio !== mic.audio))
      throw new AppError("stale", "The mics were changed meanwhile. Nothing was changed; try again.");
    await changeLocked(
      db,
      now,
      wanted.length === 1 ? `Correct the clock of ${wanted[0]!.file}` : `Correct ${wanted.length} clocks`,
      { op: "several", operations },
    );
  });
}
