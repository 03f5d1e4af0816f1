import type { OpenSong } from "../../contract";
import { applyOperation, type Operation } from "../../core/song/operations";
import type { Song } from "../../core/song/song";
import { inTransaction, pool, type Db } from "../db/pool";
import {
  deleteOperationsAfter,
  findOperation,
  findSong,
  insertOperation,
  lockSong,
  updateSong,
  type SongRow,
} from "../db/queries/song";
import { AppError, songGone } from "../errors";

async function describe(db: Db, row: SongRow): Promise<OpenSong> {
  const undo = await findOperation(db, row.id, row.position);
  const redo = await findOperation(db, row.id, row.position + 1);
  return {
    id: row.id,
    song: row.document,
    version: row.version,
    facts: row.facts,
    undo: undo?.label ?? null,
    redo: redo?.label ?? null,
  };
}

export async function openSong(id: string): Promise<OpenSong> {
  const row = await findSong(pool(), id);
  if (!row) throw songGone();
  return describe(pool(), row);
}

/** Applies and stores one operation on a locked song; returns the new version. */
export async function changeLocked(
  db: Db,
  row: SongRow,
  label: string,
  operation: Operation,
): Promise<number> {
  let applied;
  try {
    applied = applyOperation(row.document, operation);
  } catch (error) {
    if (error instanceof RangeError || error instanceof TypeError)
      throw new AppError("invalid", `${error.message}. Nothing was changed.`);
    throw error;
  }
  const position = row.position + 1;
  await deleteOperationsAfter(db, row.id, row.position);
  await insertOperation(db, row.id, { position, label, operation, inverse: applied.inverse });
  await updateSong(db, row.id, applied.song, row.version + 1, position);
  return row.version + 1;
}

async function locked(db: Db, id: string, version: number): Promise<SongRow> {
  const row = await lockSong(db, id);
  if (!row) throw songGone();
  if (row.version !== version)
    throw new AppError(
      "stale",
      `This song was changed elsewhere (it is at change ${row.version}, this tab at ${version}). Nothing is lost there; this last move was not taken. Load it anew to go on.`,
    );
  return row;
}

/** Changes a song that is still at `version` by what `decide` makes of it as it stands. */
export const editSongBy = (
  id: string,
  version: number,
  label: string,
  decide: (db: Db, song: Song) => Promise<Operation>,
): Promise<OpenSong> =>
  inTransaction(async (db) => {
    const row = await locked(db, id, version);
    await changeLocked(db, row, label, await decide(db, row.document));
    return describe(db, (await findSong(db, id))!);
  });

/** Changes a song that is still at `version`. */
export const editSong = (
  id: string,
  version: number,
  label: string,
  operation: Operation,
): Promise<OpenSong> => editSongBy(id, version, label, async () => operation);

/** Takes the last operation back, or does the next one again. Works after a reload, too. */
export const stepHistory = (id: string, version: number, direction: "undo" | "redo"): Promise<OpenSong> =>
  inTransaction(async (db) => {
    const row = await locked(db, id, version);
    const stored = await findOperation(db, id, direction === "undo" ? row.position : row.position + 1);
    if (!stored) throw new AppError("invalid", `There is nothing to ${direction}.`);
    const { song } = applyOperation(row.document, direction === "undo" ? stored.inverse : stored.operation);
    await updateSong(db, id, song, row.version + 1, row.position + (direction === "undo" ? -1 : 1));
    return describe(db, (await findSong(db, id))!);
  });
