import { analyseKit } from "../../core/gather/analyseKit";
import { gatherFacts } from "../../core/gather/facts";
import { takeAnalysis } from "../../core/song/fromAnalysis";
import { audioOfMics, readWhole } from "../audio/songAudio";
import { inTransaction, pool } from "../db/pool";
import { findSong, lockSong, updateFacts } from "../db/queries/song";
import { AppError } from "../errors";
import { changeLocked } from "../useCases/editSong";

/** Analyses a song's mics and writes what was found into the song, as one operation that can be undone. */
export async function analyseSong(songId: string, progress: (share: number) => void): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw new AppError("not_found", "This song does not exist any more.");
  const { mics, sampleRate } = row.document;
  if (mics.length === 0)
    throw new AppError("invalid", "There is nothing to analyse: bring in some files first.");
  const rows = await audioOfMics(pool(), songId, row.document);
  const audio: Float32Array[][] = [];
  for (const [i, one] of rows.entries()) {
    audio.push(await readWhole(pool(), one));
    progress((0.15 * (i + 1)) / rows.length);
  }
  const analysis = analyseKit(
    mics.map((m, i) => ({
      file: m.file,
      label: { piece: m.piece, place: m.place, sure: m.sure },
      channels: audio[i]!,
    })),
    sampleRate,
    (share) => progress(0.15 + 0.7 * share),
  );
  await inTransaction(async (db) => {
    const now = await lockSong(db, songId);
    if (!now) throw new AppError("not_found", "This song does not exist any more.");
    const operation = takeAnalysis(now.document, analysis);
    await changeLocked(db, now, "Analyse the kit", operation);
    const song = (await findSong(db, songId))!.document;
    const kept = song.mics.filter((m) => mics.some((x) => x.id === m.id));
    const facts = gatherFacts(
      kept,
      kept.map((m) => audio[mics.findIndex((x) => x.id === m.id)]!),
      analysis,
    );
    await updateFacts(db, songId, facts);
  });
  progress(1);
}
