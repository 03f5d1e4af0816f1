import { expect, test } from "@jest/globals";
import pg from "pg";
import { rowsOf, withDatabase } from "../testing/database";
import { createSong } from "../useCases/createSong";
import { inTransaction, pool, withClient } from "./pool";
import { findSong, lockSong, updateSong } from "./queries/song";

const titled = (title: string) => rowsOf("song", "title = $1", [title]);

withDatabase("transactions", () => {
  test("all of it or nothing, also where a part of it went well", async () => {
    const id = await createSong("transaction, before");
    const half = inTransaction(async (db) => {
      const row = (await lockSong(db, id))!;
      await updateSong(db, id, { ...row.document, title: "transaction, half" }, 2, 0);
      throw new Error("and then the power went");
    });
    await expect(half).rejects.toThrow("the power went");
    expect([await titled("transaction, half"), await titled("transaction, before")]).toEqual([0, 1]);
  });

  test("an error of the database is told, and the connection serves the next", async () => {
    await expect(inTransaction((db) => db.query("select 1 / 0"))).rejects.toThrow("division by zero");
    const { rows } = await inTransaction((db) => db.query<{ one: number }>("select 1 as one"));
    expect(rows[0]!.one).toBe(1);
  });

  // Issue 17: a connection that ended while nothing was asked of it ended the program.
  test("a connection that the database ends in the middle fails its own work only, and nothing of it stays", async () => {
    const id = await createSong("transaction, kept");
    const work = inTransaction(async (db) => {
      const row = (await lockSong(db, id))!;
      await updateSong(db, id, { ...row.document, title: "transaction, lost" }, 2, 0);
      const { rows } = await db.query<{ pid: number }>("select pg_backend_pid() as pid");
      await pool().query("select pg_terminate_backend($1)", [rows[0]!.pid]);
      // Nothing is asked for a while: that is when the loss would have been nobody's to hear of.
      await new Promise((r) => setTimeout(r, 300));
      await db.query("select 1");
    });
    await expect(work).rejects.toThrow();
    expect((await findSong(pool(), id))!.title).toBe("transaction, kept");
    const again = await inTransaction(async (db) => (await lockSong(db, id))!.title);
    expect(again).toBe("transaction, kept");
  });

  test("many at once each have their own", async () => {
    const ids = await Promise.all(Array.from({ length: 30 }, (_, i) => createSong(`transaction ${i}`)));
    await Promise.all(
      ids.map((id, i) =>
        inTransaction(async (db) => {
          const row = (await lockSong(db, id))!;
          await updateSong(db, id, { ...row.document, title: `transaction ${i} done` }, 2, 0);
        }),
      ),
    );
    const titles = await Promise.all(ids.map(async (id) => (await findSong(pool(), id))!.title));
    expect(titles).toEqual(ids.map((_, i) => `transaction ${i} done`));
  });
});

withDatabase("a connection that is lost at any moment", () => {
  // A loss that came in the same breath as the connection was nobody's to hear of, and ended the program.
  test("fails what was asked by it and ends nothing else", async () => {
    const options = `${process.env["DATABASE_URL"]}?application_name=lost`;
    const own = new pg.Pool({ connectionString: options, max: 6 });
    own.on("error", () => {});
    const until = Date.now() + 3000;
    let [answered, lost] = [0, 0];
    const ask = async () => {
      while (Date.now() < until)
        await withClient(own, (db) => db.query("select repeat('x', 100000)")).then(
          () => answered++,
          () => lost++,
        );
    };
    const end = async () => {
      while (Date.now() < until)
        await pool().query(
          "select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'lost'",
        );
    };
    await Promise.all([ask(), ask(), ask(), ask(), end()]);
    await own.end();
    expect(answered).toBeGreaterThan(0);
    expect(lost).toBeGreaterThan(0);
  });
});
