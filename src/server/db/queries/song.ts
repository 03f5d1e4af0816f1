import { noFacts, type Facts } from "../../../core/facts/facts";
import type { SongEntry } from "../../../contract";
import type { Operation } from "../../../core/song/operations";
import type { Song } from "../../../core/song/song";
import { newestFormat, upgradeOperation, upgradeSong } from "../../../core/song/formats";
import type { Db } from "../pool";

export interface SongRow {
  id: string;
  title: string;
  version: number;
  position: number;
  document: Song;
  facts: Facts | null;
}

export type SongListRow = SongEntry<Date>;

const columns = "id, title, version, position, document, facts";

export async function insertSong(db: Db, song: Song, facts: Facts | null): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    "insert into song (title, document, facts) values ($1, $2, $3) returning id",
    [song.title, JSON.stringify(song), facts && JSON.stringify(facts)],
  );
  return rows[0]!.id;
}

export async function findSong(db: Db, id: string): Promise<SongRow | null> {
  const { rows } = await db.query<SongRow>(
    `select ${columns} from song where id = $1 and deleted_at is null`,
    [id],
  );
  return upgraded(rows[0]);
}

/** Documents are brought to the newest format when they are read. */
const upgraded = (row: SongRow | undefined): SongRow | null =>
  row
    ? { ...row, document: upgradeSong(row.document), facts: row.facts && { ...noFacts, ...row.facts } }
    : null;

/** The song, held against other changes until the transaction ends. */
export async function lockSong(db: Db, id: string): Promise<SongRow | null> {
  const { rows } = await db.query<SongRow>(
    `select ${columns} from song where id = $1 and deleted_at is null for update`,
    [id],
  );
  return upgraded(rows[0]);
}

/** Songs that are there, or those that were deleted and can be brought back; the last changed or deleted first. */
export async function listSongs(db: Db, deleted = false): Promise<SongListRow[]> {
  const { rows } = await db.query<SongListRow>(
    `select id, title, jsonb_array_length(document->'mics') as mics,
       (document->>'frames')::float8 / (document->>'sampleRate')::float8 as seconds,
       (select coalesce(sum(f.byte_length), 0)::float8 from song_audio s
          join audio a on a.id = s.audio_id join file f on f.id = a.original_file_id
          where s.song_id = song.id) as bytes,
       coalesce(deleted_at, updated_at) as "updatedAt"
     from song where (deleted_at is not null) = $1 order by coalesce(deleted_at, updated_at) desc limit 500`,
    [deleted],
  );
  return rows;
}

/** Puts a song away; it can be brought back until it is swept. False: it is not there. */
export async function discardSong(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "update song set deleted_at = now() where id = $1 and deleted_at is null",
    [id],
  );
  return rowCount === 1;
}
export async function restoreSong(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "update song set deleted_at = null where id = $1 and deleted_at is not null",
    [id],
  );
  return rowCount === 1;
}
/** Songs that were put away so many days ago go for good. */
export async function deleteDiscarded(db: Db, days: number): Promise<void> {
  await db.query("delete from song where deleted_at < now() - make_interval(days => $1)", [days]);
}

/** Lets a song have the audio of another one. */
export async function shareAudio(db: Db, from: string, to: string): Promise<void> {
  await db.query(
    "insert into song_audio (song_id, audio_id) select $2, audio_id from song_audio where song_id = $1",
    [from, to],
  );
}

export async function updateSong(
  db: Db,
  id: string,
  song: Song,
  version: number,
  position: number,
): Promise<void> {
  await db.query(
    "update song set title = $2, document = $3, version = $4, position = $5, updated_at = now() where id = $1",
    [id, song.title, JSON.stringify(song), version, position],
  );
}

export async function updateFacts(db: Db, id: string, facts: Facts): Promise<void> {
  await db.query("update song set facts = $2 where id = $1", [id, JSON.stringify(facts)]);
}

export async function deleteSong(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query("delete from song where id = $1", [id]);
  return rowCount === 1;
}

export interface OperationRow {
  position: number;
  label: string;
  operation: Operation;
  inverse: Operation;
}

export async function insertOperation(db: Db, songId: string, row: OperationRow): Promise<void> {
  await db.query(
    "insert into song_operation (song_id, position, label, operation, inverse, format) values ($1, $2, $3, $4, $5, $6)",
    [
      songId,
      row.position,
      row.label,
      JSON.stringify(row.operation),
      JSON.stringify(row.inverse),
      newestFormat,
    ],
  );
}

export async function deleteOperationsAfter(db: Db, songId: string, position: number): Promise<void> {
  await db.query("delete from song_operation where song_id = $1 and position > $2", [songId, position]);
}

export async function findOperation(db: Db, songId: string, position: number): Promise<OperationRow | null> {
  const { rows } = await db.query<OperationRow & { format: number }>(
    "select position, label, operation, inverse, format from song_operation where song_id = $1 and position = $2",
    [songId, position],
  );
  const [row] = rows;
  if (!row) return null;
  const { format, ...stored } = row;
  return {
    ...stored,
    operation: upgradeOperation(row.operation, format),
    inverse: upgradeOperation(row.inverse, format),
  };
}

export interface HistoryRow {
  /** The song stood so before this operation. */
  position: number;
  label: string;
  createdAt: Date;
}

/** The last operations in force, newest first. */
export async function listHistory(
  db: Db,
  songId: string,
  upTo: number,
  limit: number,
): Promise<HistoryRow[]> {
  const { rows } = await db.query<HistoryRow>(
    `select position, label, created_at as "createdAt" from song_operation
     where song_id = $1 and position <= $2 order by position desc limit $3`,
    [songId, upTo, limit],
  );
  return rows;
}

/** Inverses of the operations above `position` that are in force, newest first. */
export async function listInverses(
  db: Db,
  songId: string,
  position: number,
  upTo: number,
): Promise<Operation[]> {
  const { rows } = await db.query<{ inverse: Operation; format: number }>(
    `select inverse, format from song_operation where song_id = $1 and position > $2 and position <= $3 order by position desc`,
    [songId, position, upTo],
  );
  return rows.map((r) => upgradeOperation(r.inverse, r.format));
}
