import { expect, test } from "@jest/globals";
import { pool } from "../db/pool";
import { deleteDiscarded, discardSong, findSong, listSongs, restoreSong } from "../db/queries/song";
import { keptDays } from "../jobs/sweep";
import { smallSong, songOf, withDatabase } from "../testing/database";
import { copySong } from "./copySong";

withDatabase("copies of songs, and songs that are put away", () => {
  test("a copy has the song and its audio under another title, and goes its own way", async () => {
    const id = await smallSong("first", 11);
    const copy = await copySong(id);
    const [original, made] = [await songOf(id), await songOf(copy)];
    expect(made).toEqual({ ...original, title: "first, copy" });
    const audio = async (song: string) =>
      (await pool().query("select audio_id from song_audio where song_id = $1 order by 1", [song])).rows;
    expect(await audio(copy)).toEqual(await audio(id));
    expect(await audio(copy)).not.toEqual([]);
    await expect(copySong("00000000-0000-4000-8000-000000000000")).rejects.toThrow();
  });
  test("a song that is put away is gone for all but the list of those, until it is brought back", async () => {
    const id = await smallSong("away", 12);
    expect(await discardSong(pool(), id)).toBe(true);
    expect(await discardSong(pool(), id)).toBe(false);
    expect(await findSong(pool(), id)).toBeNull();
    await expect(copySong(id)).rejects.toThrow();
    expect((await listSongs(pool())).some((s) => s.id === id)).toBe(false);
    const [entry] = (await listSongs(pool(), true)).filter((s) => s.id === id);
    expect(entry!.bytes).toBeGreaterThan(100);
    expect(await restoreSong(pool(), id)).toBe(true);
    expect(await restoreSong(pool(), id)).toBe(false);
    expect((await findSong(pool(), id))!.title).toBe("away");
  });
  test("after its days it goes for good, and no sooner", async () => {
    const [old, young] = [await smallSong("old", 13), await smallSong("young", 14)];
    for (const [id, days] of [
      [old, keptDays + 1],
      [young, keptDays - 1],
    ] as const)
      await pool().query("update song set deleted_at = now() - make_interval(days => $2) where id = $1", [
        id,
        days,
      ]);
    await deleteDiscarded(pool(), keptDays);
    const { rows } = await pool().query("select id from song where id = any($1)", [[old, young]]);
    expect(rows).toEqual([{ id: young }]);
  });
});
