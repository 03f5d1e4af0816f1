import { expect, test } from "@jest/globals";
import { withDatabase } from "../../testing/database";
import { inTransaction, type Db } from "../pool";
import { bytesQuestion, listBytes } from "./bytes";

const [files, partsOfEach] = [64, 2000];

/** A store as 64 mics over an hour leave it: files of many parts, each of ten bytes. Returns their ids. */
async function fill(db: Db): Promise<string[]> {
  await db.query(
    "insert into chunk (sha256, bytes) select sha256(n::text::bytea), lpad(n::text, 10, '0')::bytea from generate_series(0, 19999) n",
  );
  const { rows } = await db.query<{ id: string }>(
    `insert into file (name, media_type, byte_length, sha256)
     select 'mic ' || n, 'audio/wav', $1, sha256('x') from generate_series(1, $2::int) n returning id`,
    [10 * partsOfEach, files],
  );
  const ids = rows.map((r) => r.id);
  await db.query(
    `insert into file_part (file_id, position, byte_start, byte_length, chunk_sha256)
     select f.id, n, 10 * n, 10, sha256(((f.place * 7919 + n) % 20000)::text::bytea)
     from unnest($1::uuid[]) with ordinality as f(id, place), generate_series(0, $2::int - 1) n`,
    [ids, partsOfEach],
  );
  await db.query("analyze file_part, chunk");
  return ids;
}

interface Plan {
  readonly "Node Type": string;
  readonly "Relation Name"?: string;
  readonly Plans?: readonly Plan[];
}
const scans = (plan: Plan): string[] => [
  ...(plan["Relation Name"] ? [`${plan["Node Type"]} of ${plan["Relation Name"]}`] : []),
  ...(plan.Plans ?? []).flatMap(scans),
];

withDatabase("bytes of a large store", () => {
  test("are found by the indexes, however many files there are, and cut to what was asked", async () => {
    const undone = new Error("undone");
    await expect(
      inTransaction(async (db) => {
        const ids = await fill(db);
        const ranges = ids.map((fileId, i) => ({ fileId, from: 5003 + i, to: 5029 + i }));
        const { rows } = await db.query<{ "QUERY PLAN": [{ Plan: Plan }] }>(
          `explain (format json) ${bytesQuestion(ranges)}`,
        );
        expect(scans(rows[0]!["QUERY PLAN"][0].Plan).filter((s) => s.startsWith("Seq"))).toEqual([]);
        for (const [i, pieces] of (await listBytes(db, ranges)).entries()) {
          const chunk = (n: number) => String(((i + 1) * 7919 + n) % 20000).padStart(10, "0");
          const whole = Array.from({ length: partsOfEach }, (_, n) => chunk(n)).join("");
          expect(Buffer.concat(pieces).toString()).toBe(whole.slice(5003 + i, 5029 + i));
        }
        throw undone;
      }),
    ).rejects.toBe(undone);
  });
});
