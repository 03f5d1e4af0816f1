import { execFileSync } from "node:child_process";
import { createHash } from "node:crypto";
import { afterAll, beforeAll, describe } from "@jest/globals";
import pg from "pg";
import { writeWav, type WriteFormat } from "../../core/file/wavWrite";
import { noise } from "../../core/testing/signals";
import { pool } from "../db/pool";
import { findAudio } from "../db/queries/audio";
import { findFile } from "../db/queries/file";
import { findSong } from "../db/queries/song";
import { streamFile } from "../audio/store";
import { createSong } from "../useCases/createSong";
import { importAudio } from "../useCases/importAudio";

// For tests only. `npm test` starts a database and sets DATABASE_URL; without one these tests have nothing to work on.

const there = process.env["DATABASE_URL"] !== undefined;
if (there) afterAll(() => pool().end());

/** Tests that need the real database. */
export const withDatabase: (name: string, tests: () => void) => void = there ? describe : describe.skip;

/** Tests that nothing else may work beside: in a database of that name, made for them. */
export const withOwnDatabase = (database: string, name: string, tests: () => void): void =>
  withDatabase(name, () => {
    const common = process.env["DATABASE_URL"]!;
    const run = async (sql: string): Promise<void> => {
      const client = new pg.Client({ connectionString: common });
      await client.connect();
      await client.query(sql).finally(() => client.end());
    };
    beforeAll(async () => {
      await run(`drop database if exists ${database}`);
      await run(`create database ${database}`);
      const own = new URL(common);
      own.pathname = `/${database}`;
      process.env["DATABASE_URL"] = own.href;
      const env = { ...process.env, JUBO_DEMO: "no" };
      execFileSync(process.execPath, ["dist/setup.mjs"], { env, stdio: "ignore" });
    });
    tests();
  });

/** The bytes of a WAV file of noise. */
export const wavOf = (frames: number, seed: number, rate = 48000, format: WriteFormat = "wav24"): Buffer =>
  Buffer.from(writeWav({ sampleRate: rate, channels: [noise(frames, seed)] }, format));

/** Bytes as they come over a network, in pieces. */
export async function* inPieces(bytes: Uint8Array, size = 4096): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size);
}

export const bring = (song: string, name: string, bytes: Uint8Array, told = bytes.length) =>
  importAudio(song, name, told, inPieces(bytes));

/** A song with a kick and a snare of noise. */
export async function smallSong(title: string, seed = 1): Promise<string> {
  const id = await createSong(title);
  await bring(id, "Kick in.wav", wavOf(2000, seed));
  await bring(id, "Snare top.wav", wavOf(2400, seed + 1));
  return id;
}

export const songOf = async (id: string) => (await findSong(pool(), id))!.document;

/** The original that stands behind an audio, as it lies in the store. */
export async function originalOf(audioId: string): Promise<{ bytes: Buffer; sha256: string }> {
  const audio = (await findAudio(pool(), audioId))!;
  const file = (await findFile(pool(), audio.originalFileId))!;
  const parts: Buffer[] = [];
  for await (const part of streamFile(pool(), file)) parts.push(part);
  const bytes = Buffer.concat(parts);
  return { bytes, sha256: createHash("sha256").update(bytes).digest("hex") };
}

/** How many rows a table holds that belong to nothing but a song. */
export const rowsOf = async (
  table: "song" | "song_operation" | "file" | "audio",
  where: string,
  values: unknown[],
) =>
  Number(
    (await pool().query<{ n: string }>(`select count(*) as n from ${table} where ${where}`, values)).rows[0]!
      .n,
  );
