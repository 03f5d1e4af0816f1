import type { Revision } from "../../contract";
import { differences } from "../../core/song/differences";
import type { Song } from "../../core/song/song";
import { inTransaction, pool } from "../db/pool";
import { deleteRevision, findRevision, insertRevision, listRevisions } from "../db/queries/revision";
import { findSong, lockSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";

/** Revisions that a song keeps at most, and what of one is told of its changes. */
const [most, told] = [1000, 60];

export async function revisionsOf(songId: string): Promise<Revision[]> {
  if (!(await findSong(pool(), songId))) throw songGone();
  return listRevisions(pool(), songId);
}

/** Keeps the song as it stands, with what changed since the revision before in words. Errors  AppError. */
export const keepRevision = (songId: string, name: string, note: string): Promise<Revision> =>
  inTransaction(async (db) => {
    const row = await lockSong(db, songId);
    if (!row) throw songGone();
    if ((await listRevisions(db, songId)).length >= most)
      throw new AppError("invalid", `This song has ${most} revisions; give one up first. Nothing was changed.`);
    const before = await findRevision(db, songId, null);
    const song = row.document;
    const words = before ? differences(before, song) : [];
    const more = words.length - told;
    const changes = more > 0 ? [...words.slice(0, told), `${more} changes more`] : words;
    return insertRevision(db, songId, { name, note, changes, song });
  }); // prettier-ignore

/** The song as it was kept. Errors  AppError. */
export async function revisionSong(songId: string, number: number): Promise<Song> {
  const song = await findRevision(pool(), songId, number);
  if (!song) throw new AppError("not_found", `This song has no revision ${number}.`);
  return song;
}

export async function giveUpRevision(songId: string, number: number): Promise<object> {
  if (!(await deleteRevision(pool(), songId, number)))
    throw new AppError("not_found", `This song has no revision ${number} any more.`);
  return {};
}
