import type { SampleFormat } from "../../../core/file/sampleFormat";
import type { Db } from "../pool";

export interface AudioRow {
  id: string;
  originalFileId: string;
  fileId: string;
  sampleFormat: SampleFormat;
  channels: number;
  sampleRate: number;
  frameBytes: number;
  dataStart: number;
  frames: number;
  convertedFrom: number | null;
  peakDbfs: number;
}

const columns = `a.id, a.original_file_id as "originalFileId", a.file_id as "fileId", a.sample_format as "sampleFormat",
  a.channels, a.sample_rate as "sampleRate", a.frame_bytes as "frameBytes", a.data_start as "dataStart",
  a.frames::float8 as frames, a.converted_from as "convertedFrom", a.peak_dbfs as "peakDbfs"`;

export async function insertAudio(db: Db, a: Omit<AudioRow, "id">): Promise<string> {
  const { rows } = await db.query<{ id: string }>(
    `insert into audio (original_file_id, file_id, sample_format, channels, sample_rate, frame_bytes, data_start, frames,
       converted_from, peak_dbfs)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) returning id`,
    [
      a.originalFileId,
      a.fileId,
      a.sampleFormat,
      a.channels,
      a.sampleRate,
      a.frameBytes,
      a.dataStart,
      a.frames,
      a.convertedFrom,
      a.peakDbfs,
    ],
  );
  return rows[0]!.id;
}

export async function findAudio(db: Db, id: string): Promise<AudioRow | null> {
  const { rows } = await db.query<AudioRow>(`select ${columns} from audio a where a.id = $1`, [id]);
  return rows[0] ?? null;
}

export async function listSongAudio(db: Db, songId: string): Promise<AudioRow[]> {
  const { rows } = await db.query<AudioRow>(
    `select ${columns} from audio a join song_audio s on s.audio_id = a.id where s.song_id = $1`,
    [songId],
  );
  return rows;
}

export async function findSongAudioByHash(db: Db, songId: string, sha256: Buffer): Promise<string | null> {
  const { rows } = await db.query<{ name: string }>(
    `select f.name from song_audio s join audio a on a.id = s.audio_id join file f on f.id = a.original_file_id
     where s.song_id = $1 and f.sha256 = $2 limit 1`,
    [songId, sha256],
  );
  return rows[0]?.name ?? null;
}

export async function linkAudio(db: Db, songId: string, audioId: string): Promise<void> {
  await db.query("insert into song_audio (song_id, audio_id) values ($1, $2) on conflict do nothing", [
    songId,
    audioId,
  ]);
}

export async function findAudios(db: Db, ids: readonly string[]): Promise<AudioRow[]> {
  const { rows } = await db.query<AudioRow>(`select ${columns} from audio a where a.id = any($1::uuid[])`, [
    ids,
  ]);
  return rows;
}
