import { to as copyTo } from "pg-copy-streams";
import { withClient, type Db } from "./pool";

/** "PGCOPY\n\377\r\n\0", flags, and the length of what the header goes on with (PostgreSQL, COPY: Binary Format). */
const signature = Buffer.from("PGCOPY\n\xff\r\n\0", "latin1");
const headerBytes = signature.length + 4 + 4;

/** Fields of a row, each in the pieces in which it came; none where it is null. */
export type CopiedRow = readonly (readonly Buffer[])[];

/**
 * The rows of a query, each field as the database holds it: bytes come as bytes, four to five times as fast as in the
 * hexadecimal text that an ordinary question answers with, and are not put together, since that would copy them. COPY
 * takes no parameters, so that values stand in the query: only by `uuid` and `whole`.
 */
export const copyRows = (db: Db, query: string): Promise<CopiedRow[]> =>
  withClient(db, (client) => rowsOf(client.query(copyTo(`copy (${query}) to stdout (format binary)`))));

/** A field of few bytes. */
export const joined = (pieces: readonly Buffer[]): Buffer =>
  pieces.length === 1 ? pieces[0]! : Buffer.concat(pieces);

/** Bytes that come in parts of any length. */
class Coming {
  private part: Buffer = Buffer.alloc(0);
  constructor(private readonly parts: AsyncIterator<Buffer>) {}

  /** The next so many bytes, in pieces. Errors  Error where they end before. */
  async take(bytes: number): Promise<Buffer[]> {
    const pieces: Buffer[] = [];
    for (let missing = bytes; missing > 0;) {
      if (this.part.length === 0) {
        const next = await this.parts.next();
        if (next.done) throw new Error("the database's answer broke off");
        this.part = next.value;
      }
      const piece = this.part.subarray(0, missing);
      this.part = this.part.subarray(piece.length);
      missing -= piece.length;
      if (piece.length > 0) pieces.push(piece);
    }
    return pieces;
  }
  async short(): Promise<number> {
    return joined(await this.take(2)).readInt16BE();
  }
  async word(): Promise<number> {
    return joined(await this.take(4)).readInt32BE();
  }
}

/** The rows of an answer to COPY, read to its end. Errors  Error for what is no whole answer; that of the parts. */
export async function rowsOf(answer: AsyncIterable<Buffer>): Promise<CopiedRow[]> {
  const parts = answer[Symbol.asyncIterator]();
  try {
    const coming = new Coming(parts);
    const head = joined(await coming.take(headerBytes - 4));
    if (!head.subarray(0, signature.length).equals(signature))
      throw new Error("the database answered in a format that is not known");
    await coming.take(await coming.word());
    const rows: CopiedRow[] = [];
    for (let fields = await coming.short(); fields !== -1; fields = await coming.short()) {
      const row: Buffer[][] = [];
      for (let f = 0; f < fields; f++) row.push(await coming.take(Math.max(0, await coming.word())));
      rows.push(row);
    }
    while (!(await parts.next()).done); // the connection serves the next once all is read
    return rows;
  } finally {
    await parts.return?.();
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
