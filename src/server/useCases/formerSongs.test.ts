import { expect, test } from "@jest/globals";
import { readFileSync } from "node:fs";
import { readSong } from "../../core/song/songFile";
import type { Song } from "../../core/song/song";
import { pool } from "../db/pool";
import { withDatabase } from "../testing/database";
import { editSong, openSong, stepHistory } from "./editSong";

/** A song and its history as the program of its format stored them (core/song/formats/stored). */
interface Stored {
  readonly song: object;
  readonly afterwards: object;
  readonly history: readonly { label: string; operation: object; inverse: object }[];
}
const storedBy = (format: number): Stored =>
  JSON.parse(readFileSync(`src/core/song/formats/stored/format${format}.json`, "utf8")) as Stored;

/** Lays them into the database as that program would have. */
async function layIn({ afterwards, history }: Stored, format: number): Promise<string> {
  const { rows } = await pool().query<{ id: string }>(
    "insert into song (title, document, version, position) values ($1, $2, $3, $3) returning id",
    [`of format ${format}`, JSON.stringify(afterwards), history.length],
  );
  const { id } = rows[0]!;
  for (const [i, { label, operation, inverse }] of history.entries())
    await pool().query(
      "insert into song_operation (song_id, position, label, operation, inverse, format) values ($1, $2, $3, $4, $5, $6)",
      [id, i + 1, label, JSON.stringify(operation), JSON.stringify(inverse), format],
    );
  return id;
}
const plain = (song: Song): unknown => JSON.parse(JSON.stringify({ mics: song.mics, buses: song.buses }));

withDatabase("a song of a former program in today's database", () => {
  test.each([1, 2, 3, 4, 5, 6, 7, 8])(
    "of format %i opens, is undone to its beginning, done again, and goes on",
    async (format) => {
      const stored = storedBy(format);
      const id = await layIn(stored, format);
      let now = await openSong(id);
      expect(plain(now.song)).toEqual(plain(readSong(stored.afterwards)));
      const labels: string[] = [];
      while (now.undo !== null) {
        labels.unshift(now.undo);
        now = await stepHistory(id, now.version, "undo");
      }
      expect(labels).toEqual(stored.history.map((h) => h.label));
      while (now.redo !== null) now = await stepHistory(id, now.version, "redo");
      expect(plain(now.song)).toEqual(plain(readSong(stored.afterwards)));
      const title = { op: "setSong" as const, values: { title: "goes on" } };
      const changed = await editSong(id, now.version, "Title", title);
      expect([changed.song.title, changed.undo]).toEqual(["goes on", "Title"]);
      const back = await stepHistory(id, changed.version, "undo");
      expect(plain(back.song)).toEqual(plain(now.song));
    },
  );
});
