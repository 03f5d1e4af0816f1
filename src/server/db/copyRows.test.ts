import { describe, expect, test } from "@jest/globals";
import { withDatabase } from "../testing/database";
import { copyRows, rowsOf, uuid, whole } from "./copyRows";
import { inTransaction, pool } from "./pool";

withDatabase("rows as the database holds them", () => {
  test("bytes come as bytes, every value of them, numbers as numbers, and null empty", async () => {
    const rows = await copyRows(
      pool(),
      `select n::int4, decode(lpad(to_hex(n), 2, '0'), 'hex'), nullif(n, 7)::int8
       from generate_series(0, 255) as n order by n`,
    );
    expect(rows).toHaveLength(256);
    expect(rows.map(([n]) => n!.readInt32BE())).toEqual(rows.map((_, i) => i));
    expect(rows.every(([, bytes], i) => bytes!.length === 1 && bytes![0] === i)).toBe(true);
    expect(rows[7]![2]).toHaveLength(0);
    expect(Number(rows[8]![2]!.readBigInt64BE())).toBe(8);
  });
  test("no rows are no rows", async () => {
    expect(await copyRows(pool(), "select 1 where false")).toEqual([]);
  });
  test("what the database refuses is told, and the connection serves the next, in a transaction, too", async () => {
    await expect(copyRows(pool(), "select 1 / 0")).rejects.toThrow("division by zero");
    const rows = await inTransaction((db) => copyRows(db, "select 5::int4"));
    expect(rows[0]![0]!.readInt32BE()).toBe(5);
  });
  test("a connection that ends in the middle fails, and does not leave one waiting", async () => {
    const work = inTransaction(async (db) => {
      const { rows } = await db.query<{ pid: number }>("select pg_backend_pid() as pid");
      const long = copyRows(db, "select repeat('x', 100000), pg_sleep(0.01) from generate_series(1, 1000)");
      long.catch(() => {}); // told below
      setTimeout(() => void pool().query("select pg_terminate_backend($1)", [rows[0]!.pid]), 100);
      return long;
    });
    await expect(work).rejects.toThrow();
  });
});

describe("what stands in a query", () => {
  test("is an id or a whole number, and nothing else", () => {
    expect(uuid("6f1c1c3a-0c1e-4d7e-9e0a-3d1f5b2a7c44")).toBe("'6f1c1c3a-0c1e-4d7e-9e0a-3d1f5b2a7c44'::uuid");
    for (const id of ["", "x", "6f1c1c3a-0c1e-4d7e-9e0a-3d1f5b2a7c44'", "1; drop table song"])
      expect(() => uuid(id)).toThrow("is no id");
    expect(whole(-3)).toBe("-3::int8");
    for (const n of [0.5, NaN, Infinity, 2 ** 60]) expect(() => whole(n)).toThrow("no whole number");
  });
  test("an answer that is none, or broke off, is refused", () => {
    expect(() => rowsOf(Buffer.from("hello"))).toThrow("not known");
    expect(() =>
      rowsOf(Buffer.concat([Buffer.from("PGCOPY\n\xff\r\n\0", "latin1"), Buffer.alloc(8)])),
    ).toThrow();
  });
});
