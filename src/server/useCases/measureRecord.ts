import { loudestOf } from "../../core/blend/besideRecord";
import { judgedSeconds } from "../../core/hits/judgedStretch";
import { drumPieces, type Song } from "../../core/song/song";
import type { RecordMeasured } from "../../contract";
import { onThread } from "../analysis/threads";
import { audioOfMics, readWhole } from "../audio/songAudio";
import { pool } from "../db/pool";
import { AppError } from "../errors";
import { stretchOf } from "./stretchAround";

/** The first of a section, as long as a kit is judged over; null: no section is asked for. Errors  AppError: there is none such. */
function beginningOf(song: Song, section: string | null): { from: number; seconds: number } | null {
  if (section === null) return null;
  const found = song.sections.find((s) => s.id === section);
  if (!found) throw new AppError("not_found", "There is no such section in this song.");
  return { from: found.from, seconds: Math.min(judgedSeconds, found.to - found.from) };
}

/** Place of the reference record among the mics. Errors  AppError: none is chosen. */
function recordIn(song: Song): number {
  const m = song.mics.findIndex((mic) => mic.id === song.referenceRecord);
  if (m >= 0) return m;
  throw new AppError(
    "invalid",
    "No record is chosen: label a file as other music in Gather, and choose it here.",
  );
}

/**
 * The kit of the stored song beside its reference record: over the first 30 s of a section, or those with the most strokes, and those in which
 * the record has most power. `section`: its id; null: none. Errors  AppError: no such section, no record chosen, silence.
 */
export async function measureRecord(songId: string, section: string | null): Promise<RecordMeasured> {
  const { song, from, stretch } = await stretchOf(
    songId,
    () => drumPieces,
    judgedSeconds,
    (stored) => {
      recordIn(stored); // before anything is read for it
      return beginningOf(stored, section);
    },
  );
  const m = recordIn(song);
  const placed = await audioOfMics(pool(), songId, song);
  const whole = await readWhole(pool(), { ...placed[m]!, start: 0 });
  const { at, seconds, stretch: record } = loudestOf(whole, song.sampleRate);
  const beside = await onThread("record", { song, from, stretch, record });
  const silent = (what: string) =>
    new AppError("invalid", `${what} is silent there, or too short to measure.`);
  if (!Number.isFinite(beside.record.integrated)) throw silent(song.mics[m]!.file);
  if (!Number.isFinite(beside.kit.integrated)) throw silent("The kit");
  return { ...beside, kitFrom: from / song.sampleRate, recordFrom: at / song.sampleRate, seconds };
}
