import type { Revision } from "../../../contract";
import { newestFormat, upgradeSong } from "../../../core/song/formats";
import type { Song } from "../../../core/song/song";
import type { Db } from "../pool";

const columns = `number, name, note, changes, created_at as "createdAt"`;
type Row = Omit<Revision, "at"> & { createdAt: Date };
const told = ({ createdAt, ...row }: Row): Revision => ({ ...row, at: createdAt.toISOString() });

/** Revisions of a song, newest first, without the songs themselves. */
export async function listRevisions(db: Db, songId: string): Promise<Revision[]> {
  const { rows } = await db.query<Row>(
    `select ${columns} from revision where song_id = $1 order by number desc`,
    [songId],
  );
  return rows.map(told);
}

export async function countRevisions(db: Db, songId: string): Promise<number> {
  const { rows } = await db.query<{ count: number }>(
    "select count(*)::integer as count from revision where song_id = $1",
    [songId],
  );
  return rows[0]!.count;
}

/** The song of one revision, or of the newest where no number is asked for; null: there is none. */
export async function findRevision(db: Db, songId: string, number: number | null): Promise<Song | null> {
  const { rows } = await db.query<{ document: object }>(
    "select document from revision where song_id = $1 and ($2::integer is null or number = $2) order by number desc limit 1",
    [songId, number],
  );
  return rows[0] ? upgradeSong(rows[0].document) : null;
}

/** Keeps a revision under the next number. The song is to be locked. */
export async function insertRevision(
  db: Db,
  songId: string,
  { name, note, changes, song }: { name: string; note: string; changes: readonly string[]; song: Song },
): Promise<Revision> {
  const { rows } = await db.query<Row>(
    `insert into revision (song_id, number, name, note, changes, document, format)
     values ($1, (select coalesce(max(number), 0) + 1 from revision where song_id = $1), $2, $3, $4, $5, $6)
     returning ${columns}`,
    [songId, name, note, JSON.stringify(changes), JSON.stringify(song), newestFormat],
  );
  return told(rows[0]!);
}

export async function deleteRevision(db: Db, songId: string, number: number): Promise<boolean> {
  const { rowCount } = await db.query("delete from revision where song_id = $1 and number = $2", [
    songId,
    number,
  ]);
  return rowCount === 1;
}
