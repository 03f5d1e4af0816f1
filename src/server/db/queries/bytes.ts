import { copyRows, joined, uuid, whole } from "../copyRows";
import type { Db } from "../pool";

/** A stretch of bytes of a stored file. */
export interface ByteRange {
  readonly fileId: string;
  readonly from: number;
  readonly to: number;
}

/** Bytes that a chunk has at most (its table's check). By it the index finds the parts, however many files there are. */
const longestPart = 1048576;

/**
 * The question for the bytes of several ranges. "offset 0" and the inner question keep PostgreSQL from joining by a look
 * through all parts and chunks there are: it takes a range for a share of a file, and would do so in a large store.
 */
export const bytesQuestion = (ranges: readonly ByteRange[]): string =>
  `select w.range::int4, (
       select case when p.byte_start >= w.low and p.byte_start + p.byte_length <= w.high then c.bytes
         else substring(c.bytes from (greatest(w.low, p.byte_start) - p.byte_start + 1)::int4
           for (least(w.high, p.byte_start + p.byte_length) - greatest(w.low, p.byte_start))::int4) end
       from chunk c where c.sha256 = p.chunk_sha256)
     from (values ${ranges
       .map((r, i) => `(${whole(i)}, ${uuid(r.fileId)}, ${whole(r.from)}, ${whole(r.to)})`)
       .join(", ")}) as w(range, file_id, low, high)
     cross join lateral (
       select f.byte_start, f.byte_length, f.chunk_sha256 from file_part f
       where f.file_id = w.file_id and f.byte_start < w.high and f.byte_start + f.byte_length > w.low
         and f.byte_start > w.low - ${whole(longestPart)}
       order by f.byte_start offset 0) as p
     order by w.range, p.byte_start`;

/** The bytes of several ranges, cut out by the database. Shape  [range][piece], in order; fewer bytes where a part is missing. */
export async function listBytes(db: Db, ranges: readonly ByteRange[]): Promise<Buffer[][]> {
  const pieces = ranges.map((): Buffer[] => []);
  if (ranges.length === 0) return pieces;
  const rows = await copyRows(db, bytesQuestion(ranges));
  for (const [range, bytes] of rows) pieces[joined(range!).readInt32BE()]!.push(...bytes!);
  return pieces;
}
