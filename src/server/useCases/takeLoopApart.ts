import type { OpenSong } from "../../contract";
import { hitsOfLoop } from "../../core/loops/findLoopStrokes";
import { knownStrokes } from "../../core/loops/loopApart";
import { apartOperation, loopPartNames, type StoredPart } from "../../core/loops/loopParts";
import { onThread } from "../analysis/threads";
import { addAudio, storeCopy } from "../audio/playable";
import { audioOfMics, readWhole } from "../audio/songAudio";
import { pool } from "../db/pool";
import { findSong } from "../db/queries/song";
import { AppError, refusal, songGone } from "../errors";
import { editSongBy } from "./editSong";
import { mostMics, nextMicId } from "./importAudio";

/** Longest loop that is taken apart, s: all of it and its parts are held at once. */
const longest = 600;

/**
 * Takes a loop of a stored song apart into kick, snare, hat and rest, each a track of its own that together add up to it. One change that can be
 * undone.
 * Errors  AppError that says what is wrong and that nothing was changed.
 */
export async function takeLoopApart(songId: string, micId: string, version: number): Promise<OpenSong> {
  const row = await findSong(pool(), songId);
  if (!row) throw songGone();
  const { document } = row;
  const m = document.mics.findIndex((mic) => mic.id === micId);
  const loop = document.mics[m];
  if (!loop) throw new AppError("not_found", "There is no such loop in this song. Nothing was changed.");
  const { sampleRate } = document;
  if (loop.piece !== "loop")
    throw new AppError("invalid", `${loop.file} is no loop: label it as one in Gather. Nothing was changed.`);
  if (loop.frames > longest * sampleRate)
    throw new AppError(
      "too_large",
      `${loop.file} is ${Math.round(loop.frames / sampleRate)} s long; loops of up to ${longest} s are taken apart. Nothing was changed.`,
    );
  const placed = await audioOfMics(pool(), songId, document);
  const channels = await readWhole(pool(), { ...placed[m]!, start: 0 });
  const known = knownStrokes(document, loop);
  const { found, parts } = await onThread("loop", {
    channels,
    sampleRate,
    known,
  }).catch((error: unknown) => {
    throw refusal(error, loop.file);
  });
  return editSongBy(songId, version, `Take ${loop.file} apart`, async (db, song) => {
    if (song.mics.length + loopPartNames.length > mostMics)
      throw new AppError("invalid", `A song holds at most ${mostMics} mics. Nothing was changed.`);
    const first = Number(nextMicId(song.mics).slice(1));
    const stored: StoredPart[] = [];
    for (const [n, name] of loopPartNames.entries()) {
      const played = await storeCopy(db, `${loop.file} ${name}.wav`, parts[name], sampleRate, "wav32f");
      const audio = await addAudio(db, songId, played.stored.id, played, sampleRate, null);
      stored.push({ name, id: `m${first + n}`, audio });
    }
    // Strokes that the song has already may have been corrected: they stay.
    return apartOperation(song, loop, stored, known ? [] : hitsOfLoop(found, loop.start / sampleRate));
  });
}
