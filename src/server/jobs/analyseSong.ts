import type { KitAnalysis } from "../../core/analysis/analysed";
import { analyseKit } from "../../core/analysis/analyseKit";
import type { KnownBefore } from "../../core/analysis/measureFacts";
import type { FileLook } from "../../core/analysis/lookAtFile";
import { measureSong } from "../../core/analysis/measureSong";
import type { BandEnergies, EnergiesBySignal, EnergiesHere } from "../../core/hits/bandEnergies";
import type { Samples } from "../../core/signal/samples";
import { newSong } from "../../core/song/create";
import { takeAnalysis } from "../../core/analysis/takeAnalysis";
import { applyAll, type Operation } from "../../core/song/operations";
import { isLayer, type Mic, type Song } from "../../core/song/song";
import { relabel } from "../../core/song/relabel";
import { analysisThreads, type AnalysisThreads } from "../analysis/threads";
import { spoolFor } from "../audio/room";
import { audioOfMics, wholeMics } from "../audio/songAudio";
import type { Spool } from "../audio/spool";
import { pool } from "../db/pool";
import { findSong, lockSong, updateFacts } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { analysisHeld, checkMemory, decodedBytes } from "../memory";
import type { Job } from "./turn";
import { changeLocked } from "../useCases/editSong";

/**
 * Analyses a song's mics and writes what was found into the song, as one operation that can be undone.
 * `held`: decoded audio up to which all of it stays in memory, bytes. Errors  AppError in words.
 */
export async function analyseSong(
  songId: string,
  job: Job,
  label = "Analyse the kit",
  held = analysisHeld(),
): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const { sampleRate } = row.document;
  // A layer is told by the strokes and tells nothing of them.
  const mics = row.document.mics.filter((m) => !isLayer(m));
  if (mics.length === 0)
    throw new AppError("invalid", "There is nothing to analyse: bring in some files first.");
  const rows = await audioOfMics(pool(), songId, { ...row.document, mics });
  const sizes = rows.map((r) => r.audio);
  checkMemory(sizes, sampleRate);
  const spool = await spoolFor(decodedBytes(sizes), held);
  const audio: (readonly Samples[])[] = [];
  const threads = analysisThreads();
  try {
    // What a file tells by itself is looked at while the next is read, and while strokes are found.
    const looking: Promise<FileLook[]>[] = [];
    for await (const { channels, start } of wholeMics(pool(), rows, spool)) {
      const look = threads.runBeside("look", [{ channels, start, sampleRate }]);
      look.catch(() => {}); // told when all are waited for
      looking.push(look);
      audio.push(channels);
      job.report((0.15 * audio.length) / rows.length, `reading mic ${audio.length} of ${rows.length}`);
    }
    const labelled = mics.map((m, i) => ({
      file: m.file,
      label: { piece: m.piece, place: m.place, sure: m.sure },
      channels: audio[i]!,
      peakDbfs: rows[i]!.audio.peakDbfs,
    }));
    const energies: EnergiesBySignal = new Map();
    const analysis = await analyseKit(labelled, sampleRate, {
      progress: (share) => job.report(0.15 + 0.6 * share, "finding strokes, phase and beats"),
      run: threads.run,
      energies,
      keep: spool ? (e) => energiesIn(spool, e) : undefined,
    });
    const looks = (await Promise.all(looking)).flat();
    await takeAnalysed(songId, label, mics, audio, { analysis, known: { looks, energies } }, threads, job);
  } finally {
    await threads.close();
    await spool?.close();
  }
}

/** Energies put away in a spool. */
const energiesIn = async (spool: Spool, e: EnergiesHere): Promise<BandEnergies> => ({
  ...e,
  energy: await Promise.all(e.energy.map((x) => spool.keep(x))),
});

/** A mic apart from its song: where it goes and what it hears of others is nothing to what it sounds like. */
const byItself = (m: Mic): Mic => ({
  ...m,
  output: "kit",
  sends: [],
  chain: m.chain.map(({ key: _, ...p }) => p),
});

/** Writes into the song what was found, and stores what the proposals need. */
async function takeAnalysed(
  songId: string,
  label: string,
  mics: readonly Mic[],
  audio: readonly (readonly Samples[])[],
  { analysis, known }: { readonly analysis: KitAnalysis; readonly known: KnownBefore },
  { run }: AnalysisThreads,
  job: Job,
): Promise<void> {
  // All is measured before the song is locked, of its mics as the analysis has labelled them.
  const plain = newSong("", analysis.sampleRate, mics.map(byItself));
  const done = (count: number) =>
    job.report(
      0.75 + (0.25 * count) / mics.length,
      `measuring mic ${Math.min(mics.length, count + 1)} of ${mics.length}`,
    );
  const { song, facts } = await measureSong(plain, analysis, audio, { run, done, known });
  await job.commit(async (db) => {
    const now = await lockSong(db, songId);
    if (!now) throw songGone();
    await changeLocked(
      db,
      now,
      label,
      labelsKept(now.document, mics, takeAnalysis(now.document, analysis, song.bleed)),
    );
    await updateFacts(db, songId, facts);
  });
}

/** An analysis with what was labelled by hand while it ran on top of it. */
function labelsKept(now: Song, mics: readonly Mic[], taken: Operation): Operation {
  const operations = [taken];
  for (const { id, piece, place } of now.mics) {
    const was = mics.find((m) => m.id === id);
    if (was && (was.piece !== piece || was.place !== place))
      operations.push(...relabel(applyAll(now, operations), [id], { piece, place }));
  }
  return { op: "several", operations };
}
