import type { PastState } from "../../contract";
import { applyAll } from "../../core/song/operations";
import type { Song } from "../../core/song/song";
import { pool } from "../db/pool";
import { findSong, listHistory, listInverses } from "../db/queries/song";
import { AppError, songGone } from "../errors";

/** Changes listed at most. */
const listed = 200;

/** States a song was in, newest first. */
export async function listPast(id: string): Promise<PastState[]> {
  const row = await findSong(pool(), id);
  if (!row) throw songGone();
  const rows = await listHistory(pool(), id, row.position, listed);
  return rows.map((r) => ({ position: r.position - 1, before: r.label, at: r.createdAt.toISOString() }));
}

/** The song as it was after its first `position` changes. */
export async function songAt(id: string, position: number): Promise<Song> {
  const row = await findSong(pool(), id);
  if (!row) throw songGone();
  if (position > row.position)
    throw new AppError(
      "not_found",
      `The song has ${row.position} changes; there is no state after ${position}.`,
    );
  return applyAll(row.document, await listInverses(pool(), id, position, row.position));
}
