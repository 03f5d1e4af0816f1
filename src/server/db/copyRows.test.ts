import { describe, expect, test } from "@jest/globals";
import { withDatabase } from "../testing/database";
import { copyRows, joined, rowsOf, uuid, whole } from "./copyRows";
import { inTransaction, pool } from "./pool";

withDatabase("rows as the database holds them", () => {
  test("bytes come as bytes, every value of them, numbers as numbers, and null empty", async () => {
    const rows = await copyRows(
      pool(),
      `select n::int4, decode(lpad(to_hex(n), 2, '0'), 'hex'), nullif(n, 7)::int8
       from generate_series(0, 255) as n order by n`,
    );
    expect(rows).toHaveLength(256);
    expect(rows.map(([n]) => joined(n!).readInt32BE())).toEqual(rows.map((_, i) => i));
    expect(rows.every(([, bytes], i) => joined(bytes!).equals(Buffer.of(i)))).toBe(true);
    expect(rows[7]![2]).toHaveLength(0);
    expect(Number(joined(rows[8]![2]!).readBigInt64BE())).toBe(8);
  });
  test("what is longer than a part that comes is whole in its pieces", async () => {
    const rows = await copyRows(
      pool(),
      "select n::int4, repeat('drum', 100000) from generate_series(1, 3) as n",
    );
    expect(rows.map(([, text]) => joined(text!).toString())).toEqual(
      new Array(3).fill("drum".repeat(100000)),
    );
  });
  test("no rows are no rows", async () => {
    expect(await copyRows(pool(), "select 1 where false")).toEqual([]);
  });
  test("what the database refuses is told, and the connection serves the next, in a transaction, too", async () => {
    await expect(copyRows(pool(), "select 1 / 0")).rejects.toThrow("division by zero");
    const rows = await inTransaction((db) => copyRows(db, "select 5::int4"));
    expect(joined(rows[0]![0]!).readInt32BE()).toBe(5);
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
});

describe("an answer to COPY", () => {
  const head = Buffer.concat([Buffer.from("PGCOPY\n\xff\r\n\0", "latin1"), Buffer.alloc(8)]);
  /** Source  PostgreSQL's documentation of COPY, Binary Format. */
  const answer = Buffer.concat([
    head,
    Buffer.from([0, 2, 0, 0, 0, 3, 7, 8, 9, 255, 255, 255, 255]),
    Buffer.from([0, 1, 0, 0, 0, 0]),
    Buffer.from([255, 255]),
  ]);
  /** The answer as it may come: in parts of so many bytes. */
  async function* inParts(bytes: Buffer, length: number) {
    for (let at = 0; at < bytes.length; at += length) yield bytes.subarray(at, at + length);
  }
  test.each([1, 2, 5, 1000])("is the same in parts of %d bytes", async (length) => {
    const rows = await rowsOf(inParts(answer, length));
    expect(rows.map((row) => row.map((field) => [...joined(field)]))).toEqual([[[7, 8, 9], []], [[]]]);
  });
  test("that is none, or broke off, is refused", async () => {
    await expect(rowsOf(inParts(Buffer.from("hello, I am no answer at all"), 4))).rejects.toThrow(
      "not known",
    );
    for (const end of [5, head.length, head.length + 8, answer.length - 1])
      await expect(rowsOf(inParts(answer.subarray(0, end), 3))).rejects.toThrow("broke off");
  });
});
