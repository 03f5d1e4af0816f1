import { AudioFileError } from "../../core/file/sampleFormat";
import { readTempoMap } from "../../core/file/tempoMap";
import { sectionsOf } from "../../core/gather/place";
import { inTransaction } from "../db/pool";
import { lockSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { changeLocked } from "./editSong";

/** Largest tempo map that is taken, bytes. */
export const largestMidi = 4 * 1024 * 1024;

/** Takes tempo, meter and, when the song has none, sections from a MIDI file. Errors  AppError "invalid" with the reason. */
export const importTempoMap = (
  songId: string,
  name: string,
  bytes: Uint8Array,
): Promise<{ file: string; remarks: string[] }> =>
  inTransaction(async (db) => {
    const row = await lockSong(db, songId);
    if (!row) throw songGone();
    const { frames, sampleRate, sections } = row.document;
    if (frames === 0)
      throw new AppError("invalid", `${name} needs a song: bring in the audio first, then its tempo map.`);
    try {
      const { tempo, markers } = readTempoMap(bytes, frames / sampleRate);
      const places = markers.map((m) => ({ frame: Math.round(m.time * sampleRate), name: m.name }));
      const fresh = sections.length === 0 && places.length > 0;
      const values = { tempo, ...(fresh ? { sections: sectionsOf(places, frames, sampleRate) } : {}) };
      await changeLocked(db, row, `Tempo from ${name}`, { op: "setSong", values });
      const remarks = [`${tempo.bpm.toFixed(2)} bpm, ${tempo.beatsPerBar} beats to the bar`];
      if (fresh) remarks.push(`${places.length} sections from its markers`);
      return { file: name, remarks };
    } catch (error) {
      if (error instanceof AudioFileError)
        throw new AppError("invalid", `${name} ${error.message}. It was left out; everything else is safe.`);
      throw error;
    }
  });
