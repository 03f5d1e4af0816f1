import { createHash } from "node:crypto";
import type { Db } from "../db/pool";
import { listBytes } from "../db/queries/bytes";
import { insertChunk, insertFile, insertParts, type FileRow, type NewPart } from "../db/queries/file";

/** Bytes of one chunk. 256 KiB holds two to three seconds of a mic and reads in under a millisecond (docs/performance.md). */
export const chunkBytes = 256 * 1024;

export interface StoredFile {
  id: string;
  byteLength: number;
  sha256: Buffer;
}

/**
 * Stores a stream of bytes as a file of content-addressed chunks, inside the caller's transaction.
 * `watch` sees every chunk in order and may throw to refuse the file; the chunk's memory is used again behind it.
 * `mediaType` may be asked for when the bytes are known.
 */
export async function storeFile(
  db: Db,
  name: string,
  mediaType: string | (() => string),
  source: AsyncIterable<Uint8Array>,
  watch: (chunk: Buffer, byteStart: number) => void = () => {},
): Promise<StoredFile> {
  const whole = createHash("sha256");
  const parts: NewPart[] = [];
  let byteLength = 0;
  let pending: Promise<void> = Promise.resolve();
  /** One chunk is on its way to the database while the next is gathered; memory that is used again need not be collected. */
  const memory = [Buffer.allocUnsafe(chunkBytes), Buffer.allocUnsafe(chunkBytes)];
  const put = async (chunk: Buffer): Promise<void> => {
    const sha256 = createHash("sha256").update(chunk).digest();
    watch(chunk, byteLength);
    parts.push({ sha256, byteStart: byteLength, byteLength: chunk.length });
    byteLength += chunk.length;
    whole.update(chunk);
    await pending;
    pending = insertChunk(db, sha256, chunk);
    pending.catch(() => {});
  };
  let filled = 0;
  for await (const piece of source)
    for (let at = 0; at < piece.length;) {
      const chunk = memory[parts.length % 2]!;
      const taken = Math.min(piece.length - at, chunkBytes - filled);
      chunk.set(piece.subarray(at, at + taken), filled);
      at += taken;
      filled += taken;
      if (filled < chunkBytes) continue;
      await put(chunk);
      filled = 0;
    }
  if (filled > 0) await put(memory[parts.length % 2]!.subarray(0, filled));
  await pending;
  const sha256 = whole.digest();
  if (byteLength === 0) return { id: "", byteLength, sha256 };
  const id = await insertFile(
    db,
    name,
    typeof mediaType === "string" ? mediaType : mediaType(),
    byteLength,
    sha256,
  );
  await insertParts(db, id, parts);
  return { id, byteLength, sha256 };
}

/** Bytes [from, to) of a stored file. */
export async function readRange(db: Db, fileId: string, from: number, to: number): Promise<Buffer> {
  const [pieces] = await listBytes(db, [{ fileId, from, to }]);
  const bytes = Buffer.concat(pieces!);
  if (bytes.length !== to - from) throw new Error(`file ${fileId}: bytes ${from} to ${to} are not all there`);
  return bytes;
}

/** A stored file from `from` to `to` in pieces of a few megabytes. */
export async function* streamFile(
  db: Db,
  file: Pick<FileRow, "id" | "byteLength">,
  from = 0,
  to = file.byteLength,
): AsyncGenerator<Buffer> {
  const step = 8 * chunkBytes;
  for (let at = from; at < to; at += step) yield await readRange(db, file.id, at, Math.min(to, at + step));
}
