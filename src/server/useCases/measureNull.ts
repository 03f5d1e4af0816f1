import type { NullMeasured } from "../../contract";
import { nullFrames, nullTest } from "../../core/blend/nullTest";
import { stretchesOf } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, refusal, songGone } from "../errors";

/** The null test of a path of the stored song, over a stretch with its loudest stroke. Errors  AppError. */
export async function measureNull(songId: string, bus: string): Promise<NullMeasured> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const song = row.document;
  if (song.mics.length === 0) throw new AppError("invalid", "There are no mics that could be heard.");
  const loudest = song.hits.reduce((most, h) => (h.levelDb > most.levelDb ? h : most), {
    time: song.frames / song.sampleRate / 2,
    levelDb: -Infinity,
  });
  const read = await stretchesOf(pool(), songId, song);
  const from = Math.max(0, Math.round(loudest.time * song.sampleRate) - nullFrames / 4);
  try {
    return await nullTest(song, bus, await read(from, nullFrames));
  } catch (error) {
    throw refusal(error);
  }
}
