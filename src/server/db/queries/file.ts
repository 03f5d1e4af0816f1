import type { Db } from "../pool";

export interface FileRow {
  id: string;
  name: string;
  mediaType: string;
  byteLength: number;
  sha256: Buffer;
}

/** Stores a chunk. One that is there already is held until the transaction ends, so that no sweep takes it from under it. */
export async function insertChunk(db: Db, sha256: Buffer, bytes: Buffer): Promise<void> {
  await db.query(
    "insert into chunk (sha256, bytes) values ($1, $2) on conflict (sha256) do update set sha256 = excluded.sha256",
    [sha256, bytes],
  );
}

export async function insertFile(
  db: Db,
  name: string,
  mediaType: string,
  byteLength: number,
  sha256: Buffer,
): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    "insert into file (name, media_type, byte_length, sha256) values ($1, $2, $3, $4) returning id",
    [name, mediaType, byteLength, sha256],
  );
  return rows[0]!.id;
}

/** A stretch of a file and the chunk that holds it. */
export interface NewPart {
  readonly sha256: Buffer;
  readonly byteStart: number;
  readonly byteLength: number;
}

/** Notes what a file is made of, in order. */
export async function insertParts(db: Db, fileId: string, parts: readonly NewPart[]): Promise<void> {
  await db.query(
    `insert into file_part (file_id, position, byte_start, byte_length, chunk_sha256)
     select $1, place - 1, start, length, sha256
     from unnest($2::bigint[], $3::int[], $4::bytea[]) with ordinality as p(start, length, sha256, place)`,
    [fileId, parts.map((p) => p.byteStart), parts.map((p) => p.byteLength), parts.map((p) => p.sha256)],
  );
}

export async function findFile(db: Db, id: string): Promise<FileRow | null> {
  const { rows } = await db.query<FileRow>(
    `select id, name, media_type as "mediaType", byte_length::float8 as "byteLength", sha256 from file where id = $1`,
    [id],
  );
  return rows[0] ?? null;
}

/** Deletes those of some files that no audio refers to; their parts go with them. */
export async function deleteUnused(db: Db, ids: readonly string[]): Promise<void> {
  await db.query(
    `delete from file f
     where f.id = any($1::uuid[])
       and not exists (select 1 from audio a where a.original_file_id = f.id or a.file_id = f.id)`,
    [ids],
  );
}
