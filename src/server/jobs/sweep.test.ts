import { expect, test } from "@jest/globals";
import { inTransaction, pool } from "../db/pool";
import { holdSweep } from "../db/queries/sweep";
import { deleteSong } from "../db/queries/song";
import { findTask, insertTask } from "../db/queries/task";
import { storeFile } from "../audio/store";
import { editSong, openSong, stepHistory } from "../useCases/editSong";
import {
  bring,
  inPieces,
  originalOf,
  rowsOf,
  smallSong,
  songOf,
  wavOf,
  withDatabase,
} from "../testing/database";
import { createSong } from "../useCases/createSong";
import { sweepStore } from "./sweep";
import { work } from "./worker";

/** Makes everything that a song refers to, and files of these names, a day old. */
const age = async (names: readonly string[]): Promise<void> => {
  await pool().query("update file set created_at = now() - interval '1 day' where name = any($1)", [names]);
  await pool().query(
    "update audio a set created_at = now() - interval '1 day' from file f where f.id = a.original_file_id and f.name = any($1)",
    [names],
  );
};
const audioOf = async (song: string) => (await songOf(song)).mics.map((m) => m.audio!);
const there = (ids: readonly string[]) => rowsOf("audio", "id = any($1::uuid[])", [ids]);
const chunksOf = async (bytes: Buffer): Promise<number> =>
  Number(
    (await pool().query<{ n: string }>("select count(*) as n from chunk where bytes = $1", [bytes])).rows[0]!
      .n,
  );

/** Sweeps until something is gone: a worker that looks after the same database may have just begun. */
async function sweptUntil(gone: () => Promise<boolean>): Promise<void> {
  for (let n = 0; n < 100; n++) {
    await sweepStore();
    if (await gone()) return;
    await new Promise((r) => setTimeout(r, 50));
  }
  throw new Error("it is still there");
}

withDatabase("the store is swept", () => {
  test("what a deleted song alone held goes, to the last chunk; what another holds, too, stays", async () => {
    const [own, common] = [wavOf(3000, 600), wavOf(3000, 601)];
    const [gone, stays] = [await createSong("swept"), await createSong("kept")];
    await bring(gone, "Sweep own.wav", own);
    await bring(gone, "Sweep common.wav", common);
    await bring(stays, "Sweep common.wav", common);
    const [lost, kept] = [await audioOf(gone), await audioOf(stays)];
    await age(["Sweep own.wav", "Sweep common.wav"]);
    await deleteSong(pool(), gone);
    await sweptUntil(async () => (await chunksOf(own)) === 0);
    expect([await there(lost), await there(kept)]).toEqual([0, 1]);
    expect([await chunksOf(own), await chunksOf(common)]).toEqual([0, 1]);
    expect((await originalOf(kept[0]!)).bytes.equals(common)).toBe(true);
    expect(await rowsOf("file", "name = 'Sweep own.wav'", [])).toBe(0);
  });

  test("a mic that was taken out can be brought back by undo, whenever", async () => {
    const song = await createSong("undo after a sweep");
    const bytes = wavOf(2500, 610);
    await bring(song, "Sweep undo.wav", bytes);
    await age(["Sweep undo.wav"]);
    const { version } = await openSong(song);
    const out = await editSong(song, version, "out", { op: "removeMics", mics: ["m1"] });
    await sweepStore();
    const back = await stepHistory(song, out.version, "undo");
    expect((await originalOf(back.song.mics[0]!.audio!)).bytes.equals(bytes)).toBe(true);
  });

  test("exports stay as long as their task, and go with its song", async () => {
    const song = await smallSong("exported and swept", 620);
    const task = await insertTask(pool(), song, "export", { format: "wav16" });
    await work(task.id);
    const { files } = (await findTask(pool(), task.id))!.result as unknown as { files: { id: string }[] };
    const ids = files.map((f) => f.id);
    const left = () => rowsOf("file", "id = any($1::uuid[])", [ids]);
    await pool().query("update file set created_at = now() - interval '1 day' where id = any($1::uuid[])", [
      ids,
    ]);
    await sweepStore();
    expect(await left()).toBe(ids.length);
    await deleteSong(pool(), song);
    await sweptUntil(async () => (await left()) === 0);
  });

  test("what came within the last hour is left alone", async () => {
    const bytes = wavOf(2000, 630);
    const { id } = await inTransaction((db) =>
      storeFile(db, "Sweep fresh.wav", "audio/wav", inPieces(bytes)),
    );
    await sweepStore();
    expect(await rowsOf("file", "id = $1", [id])).toBe(1);
    await age(["Sweep fresh.wav"]);
    await sweptUntil(async () => (await rowsOf("file", "id = $1", [id])) === 0);
  });

  test("an import that has just found its chunks there keeps them, though the sweep comes between", async () => {
    const bytes = wavOf(2000, 640);
    const { id } = await inTransaction((db) => storeFile(db, "Sweep race.wav", "audio/wav", inPieces(bytes)));
    await pool().query("delete from file where id = $1", [id]);
    expect(await chunksOf(bytes)).toBe(1);
    async function* slowly() {
      yield bytes;
    }
    const again = await inTransaction(async (db) => {
      const stored = await storeFile(db, "Sweep race again.wav", "audio/wav", slowly());
      // The chunk is held by this transaction, whose file nobody else can see yet.
      await sweepStore();
      return stored;
    });
    expect(await chunksOf(bytes)).toBe(1);
    expect(await rowsOf("file", "id = $1", [again.id])).toBe(1);
  });

  test("while another program sweeps, this one leaves it to that", async () => {
    await inTransaction(async (db) => {
      expect(await holdSweep(db)).toBe(true);
      expect(await sweepStore()).toEqual({ audio: 0, files: 0, chunks: 0, bytes: 0 });
    });
  });

  test("a song that is played is not touched by any of it", async () => {
    const song = await smallSong("played meanwhile", 650);
    const ids = await audioOf(song);
    await age(["Kick in.wav", "Snare top.wav"]);
    await Promise.all([sweepStore(), sweepStore(), sweepStore()]);
    expect(await there(ids)).toBe(2);
    for (const id of ids) expect((await originalOf(id)).bytes.length).toBeGreaterThan(5000);
  });
});
