import { demoSampleRate, demoTitle, makeDemo, micFile } from "../../demo/demoSong";
import { beatBytes, beatTitle, makeBeat } from "../../demo/beatSong";
import type { Song } from "../core/song/song";
import { migrate } from "./db/migrate";
import { pool } from "./db/pool";
import { findSong, listSongs, updateSong } from "./db/queries/song";
import { createSong } from "./useCases/createSong";
import { importAudio } from "./useCases/importAudio";
import { noTask } from "./jobs/turn";
import { analyseSong } from "./jobs/analyseSong";

/** Makes the demo song from the kit simulator, as if its files had been dropped in. */
async function addDemo(): Promise<void> {
  const id = await createSong(demoTitle);
  const { mics, truth } = makeDemo();
  for (const mic of mics) {
    const bytes = micFile(mic, demoSampleRate);
    await importAudio(
      id,
      mic.spec.file,
      bytes.length,
      (async function* () {
        yield bytes;
      })(),
    );
  }
  await analyseSong(id, noTask);
  const sections = truth.sections.map((s, i) => ({
    id: `section${i + 1}`,
    name: s.name,
    from: s.fromSeconds,
    to: s.toSeconds,
  }));
  await beginHere(id, (song) => ({ ...song, sections }));
}

/** Makes the second demo song: a loop, one-shots, and music beside them. */
async function addBeat(): Promise<void> {
  const id = await createSong(beatTitle);
  for (const file of makeBeat().files) {
    const bytes = beatBytes(file);
    await importAudio(
      id,
      file.file,
      bytes.length,
      (async function* () {
        yield bytes;
      })(),
    );
  }
  await analyseSong(id, noTask);
  await beginHere(id);
}

/** The demo begins as a song just analysed: what led there is no history of its user. */
async function beginHere(id: string, change: (song: Song) => Song = (song) => song): Promise<void> {
  const row = (await findSong(pool(), id))!;
  await pool().query("delete from song_operation where song_id = $1", [id]);
  await updateSong(pool(), id, change(row.document), row.version + 1, 0);
}

/** Brings a database up to date; an empty one gets the demo song. */
async function main(): Promise<void> {
  const url = process.env["DATABASE_URL"];
  if (!url) throw new Error("DATABASE_URL is not set");
  const applied = await migrate(url);
  if (applied > 0) process.stdout.write(`database: ${applied} migration${applied > 1 ? "s" : ""} applied\n`);
  if (process.env["JUBO_DEMO"] !== "no" && (await listSongs(pool())).length === 0) {
    process.stdout.write("making the demo songs, which takes half a minute once\n");
    await addBeat();
    await addDemo();
  }
  await pool().end();
}

main().catch((error: unknown) => {
  process.stderr.write(`jubo: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
