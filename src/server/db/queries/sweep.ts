import type { Db } from "../pool";

/** Any number that is ours alone: only one program sweeps at a time. */
const sweepKey = 7217002;

/** Holds the sweep until the transaction ends; false: another program has it. */
export async function holdSweep(db: Db): Promise<boolean> {
  const { rows } = await db.query<{ held: boolean }>("select pg_try_advisory_xact_lock($1) as held", [
    sweepKey,
  ]);
  return rows[0]!.held;
}

/** What is younger may be on its way to where it belongs. */
const grace = "interval '1 hour'";

/** Audio that no song holds any more. Returns how many there were. */
export async function deleteLooseAudio(db: Db): Promise<number> {
  const { rowCount } = await db.query(
    `delete from audio a
     where a.created_at < now() - ${grace} and not exists (select 1 from song_audio s where s.audio_id = a.id)`,
  );
  return rowCount ?? 0;
}

/** Files that no audio and no export refers to. Their parts go with them. */
export async function deleteLooseFiles(db: Db): Promise<number> {
  const { rowCount } = await db.query(
    `delete from file f
     where f.created_at < now() - ${grace}
       and not exists (select 1 from audio a where a.original_file_id = f.id or a.file_id = f.id)
       and not exists (
         select 1 from task t
         where t.kind = 'export' and t.result->'files' @> jsonb_build_array(jsonb_build_object('id', f.id::text)))`,
  );
  return rowCount ?? 0;
}

/**
 * At most `most` chunks that belong to no file; those that an import under way has just found to be there are held by it
 * (insertChunk) and stay. Returns how many went and their bytes.
 */
export async function deleteLooseChunks(db: Db, most: number): Promise<{ count: number; bytes: number }> {
  const { rows } = await db.query<{ bytes: number }>(
    `delete from chunk where sha256 in (
       select c.sha256 from chunk c
       where not exists (select 1 from file_part p where p.chunk_sha256 = c.sha256)
       limit $1 for update skip locked)
     returning length(bytes) as bytes`,
    [most],
  );
  return { count: rows.length, bytes: rows.reduce((sum, r) => sum + r.bytes, 0) };
}
