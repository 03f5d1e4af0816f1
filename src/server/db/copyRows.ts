import { to as copyTo } from "pg-copy-streams";
import { withClient, type Db } from "./pool";

/** "PGCOPY\n\377\r\n\0", flags, and the length of what the header goes on with (PostgreSQL, COPY: Binary Format). */
const signature = Buffer.from("PGCOPY\n\xff\r\n\0", "latin1");
const headerBytes = signature.length + 4 + 4;

/**
 * The rows of a query, each field as the database holds it: bytes come as bytes, four to five times as fast as in the
 * hexadecimal text that an ordinary question answers with. COPY takes no parameters, so that values stand in the
 * query: only by `uuid` and `whole`.
 * Shape  [row][field]; fields that are null are empty.
 */
export const copyRows = (db: Db, query: string): Promise<Buffer[][]> =>
  withClient(db, async (client) => {
    const parts: Buffer[] = [];
    const stream = client.query(copyTo(`copy (${query}) to stdout (format binary)`));
    for await (const part of stream) parts.push(part as Buffer);
    return rowsOf(Buffer.concat(parts));
  });

/** Errors  Error for what is no whole answer. */
export function rowsOf(bytes: Buffer): Buffer[][] {
  if (bytes.length < headerBytes || !bytes.subarray(0, signature.length).equals(signature))
    throw new Error("the database answered in a format that is not known");
  const rows: Buffer[][] = [];
  let at = headerBytes + bytes.readInt32BE(signature.length + 4);
  for (;;) {
    const fields = bytes.readInt16BE(at);
    at += 2;
    if (fields === -1) return rows;
    const row: Buffer[] = [];
    for (let f = 0; f < fields; f++) {
      const length = Math.max(0, bytes.readInt32BE(at));
      row.push(bytes.subarray(at + 4, at + 4 + length));
      at += 4 + length;
    }
    rows.push(row);
  }
}

/** A uuid as it stands in a query. Errors  RangeError for anything else. */
export function uuid(id: string): string {
  if (!/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(id)) throw new RangeError(`${id} is no id`);
  return `'${id}'::uuid`;
}
/** A whole number as it stands in a query. Errors  RangeError for anything else. */
export function whole(n: number): string {
  if (!Number.isSafeInteger(n)) throw new RangeError(`${n} is no whole number`);
  return `${n}::int8`;
}
