import { expect, test } from "@jest/globals";
import { pool } from "../db/pool";
import { smallSong, songOf, withDatabase } from "../testing/database";
import { editSong, openSong } from "./editSong";
import { giveUpRevision, keepRevision, restoreRevision, revisionsOf, revisionSong } from "./revisions";

withDatabase("revisions of a song", () => {
  const edit = async (id: string, level: number) => {
    const { version, song } = await openSong(id);
    const operation = { op: "setMic", mic: song.mics[0]!.id, values: { level } } as const;
    await editSong(id, version, `level ${level}`, operation);
  };
  test("are numbered, tell what changed since the one before, and hold the song whole", async () => {
    const id = await smallSong("kept", 7);
    await edit(id, -1);
    const first = await keepRevision(id, "Rough", "for the drummer");
    expect(first).toMatchObject({ number: 1, name: "Rough", note: "for the drummer", changes: [] });
    const kept = await songOf(id);
    await edit(id, -4);
    const second = await keepRevision(id, "Louder", "");
    expect(second.changes).toHaveLength(1);
    expect(second.changes[0]).toMatch(/−3\.0 dB$/);
    expect((await revisionsOf(id)).map((r) => r.number)).toEqual([2, 1]);
    expect(await revisionSong(id, 1)).toEqual(kept);
    const { version } = await openSong(id);
    const back = await restoreRevision(id, 1, version, null);
    expect(back).toMatchObject({ undo: "Back to revision 1", version: version + 1 });
    expect((await songOf(id)).mics).toEqual(kept.mics);
    await expect(restoreRevision(id, 1, version, null)).rejects.toThrow("changed elsewhere");
    await expect(restoreRevision(id, 1, back.version, null)).rejects.toThrow("is as in revision 1 already");
  });
  test("what an analysis measured since is undone along with the rest, which no page could set", async () => {
    const id = await smallSong("measured", 10);
    await keepRevision(id, "before", "");
    const kept = await songOf(id);
    const { version, song } = await openSong(id);
    const values = { lateBy: 12, unplayed: true, peakDbfs: -20 };
    const edited = await editSong(id, version, "analysis", { op: "setMic", mic: song.mics[0]!.id, values });
    await restoreRevision(id, 1, edited.version, null);
    expect((await songOf(id)).mics).toEqual(kept.mics);
  });
  test("one that is given up leaves its number to none, and what is not there is said", async () => {
    const id = await smallSong("given up", 8);
    for (const name of ["a", "b"]) await keepRevision(id, name, "");
    await giveUpRevision(id, 1);
    expect((await keepRevision(id, "c", "")).number).toBe(3);
    await expect(revisionSong(id, 1)).rejects.toThrow("no revision 1");
    await expect(giveUpRevision(id, 1)).rejects.toThrow("no revision 1 any more");
    await expect(keepRevision("00000000-0000-4000-8000-000000000000", "x", "")).rejects.toThrow();
  });
  test("go with their song", async () => {
    const id = await smallSong("gone", 9);
    await keepRevision(id, "a", "");
    await pool().query("delete from song where id = $1", [id]);
    const { rows } = await pool().query("select 1 from revision where song_id = $1", [id]);
    expect(rows).toEqual([]);
  });
});
