import { inTransaction } from "../db/pool";
import { insertSong, lockSong, shareAudio } from "../db/queries/song";
import { songGone } from "../errors";

/** Longest title of a song. */
const longest = 200;

/** A copy of a song as it stands, without its history, on the same audio. Returns its id. Errors  AppError. */
export const copySong = (id: string): Promise<string> =>
  inTransaction(async (db) => {
    const row = await lockSong(db, id);
    if (!row) throw songGone();
    const title = `${row.document.title.slice(0, longest - 7)}, copy`;
    const copy = await insertSong(db, { ...row.document, title }, row.facts);
    await shareAudio(db, id, copy);
    return copy;
  });
