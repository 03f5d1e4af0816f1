import type { OpenSong, Revision } from "../../contract";
import { becoming } from "../../core/song/become";
import { differences } from "../../core/song/differences";
import { pieceNames } from "../../core/song/pieceNames";
import type { Piece, Song } from "../../core/song/song";
import { inTransaction, pool, type Db } from "../db/pool";
import {
  countRevisions,
  deleteRevision,
  findRevision,
  insertRevision,
  listRevisions,
} from "../db/queries/revision";
import { findSong, lockSong } from "../db/queries/song";
import { AppError, songGone } from "../errors";
import { editSongBy } from "./editSong";

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
    if ((await countRevisions(db, songId)) >= most)
      throw new AppError(
        "invalid",
        `This song has ${most} revisions; give one up first. Nothing was changed.`,
      );
    const before = await findRevision(db, songId, null);
    const song = row.document;
    const words = before ? differences(before, song) : [];
    const more = words.length - told;
    const changes = more > 0 ? [...words.slice(0, told), `${more} changes more`] : words;
    return insertRevision(db, songId, { name, note, changes, song });
  });

/** The song as it was kept. Errors  AppError. */
export async function revisionSong(songId: string, number: number, db: Db = pool()): Promise<Song> {
  const song = await findRevision(db, songId, number);
  if (!song) throw new AppError("not_found", `This song has no revision ${number}.`);
  return song;
}

/**
 * Puts a song that is still at `version` back to what a revision holds, or one drum of it: one step that can be undone. It happens
 * here, since what an analysis measured comes along, which a page cannot set. Errors  AppError, also where nothing would change.
 */
export const restoreRevision = (
  songId: string,
  number: number,
  version: number,
  drum: Piece | null,
): Promise<OpenSong> => {
  const what = drum === null ? "Back to" : `${pieceNames[drum]} of`;
  return editSongBy(songId, version, `${what} revision ${number}`, async (db, song) => {
    const operation = becoming(song, await revisionSong(songId, number, db), drum);
    if (operation.operations.length > 0) return operation;
    throw new AppError(
      "invalid",
      `${drum ? pieceNames[drum] : "The song"} is as in revision ${number} already.`,
    );
  });
};

export async function giveUpRevision(songId: string, number: number): Promise<object> {
  if (!(await deleteRevision(pool(), songId, number)))
    throw new AppError("not_found", `This song has no revision ${number} any more.`);
  return {};
}
