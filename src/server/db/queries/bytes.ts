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

/** The bytes of several ranges, cut out by the database. Shape  [range][piece], in order; fewer bytes where a part is missing. */
export async function listBytes(db: Db, ranges: readonly ByteRange[]): Promise<Buffer[][]> {
  const pieces = ranges.map((): Buffer[] => []);
  if (ranges.length === 0) return pieces;
  const wanted = ranges.map((r, i) => `(${whole(i)}, ${uuid(r.fileId)}, ${whole(r.from)}, ${whole(r.to)})`);
  const rows = await copyRows(
    db,
    `select w.range::int4,
       case when p.byte_start >= w.low and p.byte_start + p.byte_length <= w.high then c.bytes
         else substring(c.bytes from (greatest(w.low, p.byte_start) - p.byte_start + 1)::int4
           for (least(w.high, p.byte_start + p.byte_length) - greatest(w.low, p.byte_start))::int4) end
     from (values ${wanted.join(", ")}) as w(range, file_id, low, high)
     join file_part p on p.file_id = w.file_id and p.byte_start < w.high and p.byte_start + p.byte_length > w.low
       and p.byte_start > w.low - ${whole(longestPart)}
     join chunk c on c.sha256 = p.chunk_sha256
     order by w.range, p.position`,
  );
  for (const [range, bytes] of rows) pieces[joined(range!).readInt32BE()]!.push(...bytes!);
  return pieces;
}
