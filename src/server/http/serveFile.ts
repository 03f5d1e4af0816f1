import { Readable } from "node:stream";
import parseRange from "range-parser";
import { readRange, streamFile } from "../audio/store";
import { pool } from "../db/pool";
import { findFile } from "../db/queries/file";
import { AppError } from "../errors";

/** First byte and that behind the last of a single range; null when there is none that can be served. Source  RFC 9110, 14.1.2. */
export function rangeOf(
  header: string | null,
  length: number,
): { from: number; to: number } | null | "unsatisfiable" {
  if (!header) return null;
  // More last bytes than there are are all of them, which the parser would refuse.
  const asked = header.replace(/=-(\d+)$/, (_, last: string) => `=-${Math.min(Number(last), length)}`);
  const ranges = parseRange(length, asked);
  if (ranges === -1) return "unsatisfiable";
  // Several are answered with the whole, as a server may.
  if (ranges === -2 || ranges.type !== "bytes" || ranges.length !== 1) return null;
  return { from: ranges[0]!.start, to: ranges[0]!.end + 1 };
}

/** Small answers are sent whole; larger ones stream. */
const inOnePiece = 8 * 1024 * 1024;

/**
 * Serves a stored file or one range of it. Files never change, so their id is their entity tag.
 * Source  RFC 9110: ranges (14), If-None-Match (13.1.2), If-Range (13.1.5).
 */
export async function serveFile(
  request: Request,
  fileId: string,
  disposition: "attachment" | null,
  more: Record<string, string>,
): Promise<Response> {
  const etag = `"${fileId}"`;
  const shared = {
    etag,
    "accept-ranges": "bytes",
    "cache-control": "private, max-age=31536000, immutable",
    ...more,
  };
  if (request.headers.get("if-none-match") === etag)
    return new Response(null, { status: 304, headers: shared });
  const file = await findFile(pool(), fileId);
  if (!file) throw new AppError("not_found", "There is no such file.");
  const ifRange = request.headers.get("if-range");
  const range = ifRange && ifRange !== etag ? null : rangeOf(request.headers.get("range"), file.byteLength);
  if (range === "unsatisfiable")
    return new Response(null, { status: 416, headers: { "content-range": `bytes */${file.byteLength}` } });
  const { from, to } = range ?? { from: 0, to: file.byteLength };
  const headers: Record<string, string> = {
    ...shared,
    "content-type": file.mediaType,
    "content-length": String(to - from),
  };
  if (range) headers["content-range"] = `bytes ${from}-${to - 1}/${file.byteLength}`;
  if (disposition)
    headers["content-disposition"] = `${disposition}; filename*=UTF-8''${encodeURIComponent(file.name)}`;
  const body =
    to - from <= inOnePiece
      ? new Uint8Array(await readRange(pool(), fileId, from, to))
      : (Readable.toWeb(
          Readable.from(streamFile(pool(), file, from, to), { objectMode: false }),
        ) as ReadableStream);
  return new Response(body, { status: range ? 206 : 200, headers });
}
