import { gainToDb } from "../../core/signal/level";
import { respeed } from "../../core/signal/respeed";
import { clockLeft, noFacts } from "../../core/gather/proposal";
import { decodeFrames } from "../../core/file/sampleFormat";
import { storeCopy } from "../audio/playable";
import { peakLevels } from "../audio/peaks";
import { readRange } from "../audio/store";
import { inTransaction, pool, type Db } from "../db/pool";
import { findAudio, insertAudio, insertPeaks, linkAudio, type AudioRow } from "../db/queries/audio";
import { findSong, lockSong } from "../db/queries/song";
import { AppError } from "../errors";
import { changeLocked } from "../useCases/editSong";

/** Largest correction, ppm: two crystals never differ by more. */
export const mostPpm = 500;

/**
 * Makes a copy of an audio without the drift of its recorder: read faster by ppm millionths (respeed). The original stays.
 * Returns the copy's id and length in frames.
 */
export async function storeCorrected(
  db: Db,
  songId: string,
  audio: AudioRow,
  name: string,
  ppm: number,
): Promise<{ audioId: string; frames: number }> {
  const { fileId, dataStart, frames, frameBytes, channels, sampleRate, originalFileId, convertedFrom } =
    audio;
  const decoded = Array.from({ length: channels }, () => new Float32Array(frames));
  decodeFrames(
    await readRange(db, fileId, dataStart, dataStart + frames * frameBytes),
    audio,
    frames,
    decoded,
  );
  const corrected = decoded.map((x) => respeed(x, ppm));
  const { stored, info, peaks } = await storeCopy(db, name, corrected, sampleRate, "wav32f");
  const audioId = await insertAudio(db, {
    originalFileId,
    fileId: stored.id,
    sampleFormat: info.sampleFormat,
    channels,
    sampleRate,
    frameBytes: info.frameBytes,
    dataStart: info.dataStart,
    frames: info.frames,
    convertedFrom,
    peakDbfs: gainToDb(peaks.peak),
  });
  for (const [level, framesPerPeak] of peakLevels.entries())
    await insertPeaks(db, audioId, framesPerPeak, peaks.level(level));
  await linkAudio(db, songId, audioId);
  return { audioId, frames: info.frames };
}

/** Corrects the clocks of some mics by what the analysis has found, as one change that can be undone. */
export async function correctClocks(
  songId: string,
  mics: readonly string[],
  progress: (share: number) => void,
): Promise<void> {
  const row = await findSong(pool(), songId);
  if (!row) throw new AppError("not_found", "This song does not exist any more.");
  const facts = row.facts ?? noFacts;
  const wanted = row.document.mics.filter((m) => mics.includes(m.id) && clockLeft(facts, m) !== 0);
  if (wanted.length === 0) throw new AppError("invalid", "No clock of these mics is known to run off.");
  await inTransaction(async (db) => {
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
      const { audioId, frames } = await storeCorrected(db, songId, audio, mic.file, ppm);
      operations.push({
        op: "setMic" as const,
        mic: mic.id,
        values: { audio: audioId, frames, clockPpm: mic.clockPpm + ppm },
      });
      progress((i + 1) / wanted.length);
    }
    const now = await lockSong(db, songId);
    if (!now) throw new AppError("not_found", "This song does not exist any more.");
    await changeLocked(
      db,
      now,
      wanted.length === 1 ? `Correct the clock of ${wanted[0]!.file}` : `Correct ${wanted.length} clocks`,
      { op: "several", operations },
    );
  });
}
