import { randomUUID } from "node:crypto";
import { mkdir, open, readdir, readFile, rm, stat, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { AppError } from "../errors";
import { atMost } from "../http/atMost";
import { checkRoomFor } from "./room";
import { uploadsFolder } from "./uploadsFolder";

/** A file on its way in: it comes in parts, and goes on where it stopped, also after the server was started anew. */
export interface Upload {
  readonly id: string;
  readonly songId: string;
  readonly name: string;
  readonly bytes: number;
  /** What tells the sender's file from others of the same name, such as its date. */
  readonly mark: string;
}

/** Uploads that nobody went on with are let go, ms. */
const keptMs = 2 * 86400_000;
/** Most uploads that may be open; where there are as many, those that nobody went on with for so long make room, ms. */
const mostOpen = 400;
const idleMs = 600_000;

const partOf = (id: string): string => join(/*turbopackIgnore: true*/ uploadsFolder(), `${id}.part`);
const noteOf = (id: string): string => join(/*turbopackIgnore: true*/ uploadsFolder(), `${id}.json`);
/** Uploads that are being written to, by the server; its routes are bundled apart and look at the same. */
const shared = globalThis as unknown as { juboBusyUploads?: Set<string> };
const busy = (shared.juboBusyUploads ??= new Set());

async function listUploads(): Promise<(Upload & { readonly idleMs: number })[]> {
  await mkdir(/*turbopackIgnore: true*/ uploadsFolder(), { recursive: true });
  const found: (Upload & { idleMs: number })[] = [];
  for (const file of await readdir(/*turbopackIgnore: true*/ uploadsFolder())) {
    if (!file.endsWith(".json")) continue;
    const path = join(/*turbopackIgnore: true*/ uploadsFolder(), file);
    try {
      const upload = JSON.parse(await readFile(path, "utf8")) as Upload;
      const touched = Math.max(...(await Promise.all([path, partOf(upload.id)].map(touchedMs))));
      const idle = Date.now() - touched;
      if (idle > keptMs) await endUpload(upload.id);
      else found.push({ ...upload, idleMs: idle });
    } catch {
      // ended by somebody else meanwhile
    }
  }
  return found;
}

const touchedMs = async (path: string): Promise<number> => (await stat(path).catch(() => null))?.mtimeMs ?? 0;

/** Bytes that are there. */
export async function receivedOf(id: string): Promise<number> {
  return (await stat(partOf(id)).catch(() => null))?.size ?? 0;
}

/** Begins an upload, or finds the one that broke off. Errors  AppError where `most` of them are open, or there is no room. */
export async function beginUpload(
  wanted: Omit<Upload, "id">,
  most = mostOpen,
): Promise<{ upload: Upload; received: number }> {
  const all = await listUploads();
  const same = all.find(
    (u) =>
      u.songId === wanted.songId &&
      u.name === wanted.name &&
      u.bytes === wanted.bytes &&
      u.mark === wanted.mark,
  );
  if (same) return { upload: same, received: await receivedOf(same.id) };
  const idle = all.filter((u) => u.idleMs > idleMs && !busy.has(u.id)).sort((a, b) => b.idleMs - a.idleMs);
  if (all.length >= most && idle[0]) await endUpload(idle[0].id);
  else if (all.length >= most)
    throw new AppError("refused", `${most} files are on their way already; let some of them come in first.`);
  await checkRoomFor(wanted.name, wanted.bytes);
  const upload = { id: randomUUID(), ...wanted };
  await writeFile(partOf(upload.id), "");
  await writeFile(noteOf(upload.id), JSON.stringify(upload));
  return { upload, received: 0 };
}

/** Errors  AppError "not_found". */
export async function findUpload(id: string): Promise<Upload> {
  try {
    return JSON.parse(await readFile(noteOf(id), "utf8")) as Upload;
  } catch {
    throw new AppError("not_found", "This upload is not known; send the file anew.");
  }
}

/** Bytes that are written in one go: small ones would cost more in calls than in writing. */
const writeBytes = 1 << 20;

/** Writes what comes behind the first bytes of a file; what came before a break is written, too. */
async function append(path: string, from: number, source: AsyncIterable<Uint8Array>): Promise<void> {
  const file = await open(path, "r+");
  const memory = Buffer.allocUnsafe(writeBytes);
  let [at, filled] = [from, 0];
  const write = async (): Promise<void> => {
    for (let done = 0; done < filled;)
      done += (await file.write(memory, done, filled - done, at + done)).bytesWritten;
    [at, filled] = [at + filled, 0];
  };
  try {
    for await (const piece of source)
      for (let taken = 0; taken < piece.length;) {
        const count = Math.min(piece.length - taken, writeBytes - filled);
        memory.set(piece.subarray(taken, taken + count), filled);
        [taken, filled] = [taken + count, filled + count];
        if (filled === writeBytes) await write();
      }
  } finally {
    await write().finally(() => file.close());
  }
}

/**
 * Takes the next part of a file; what came of it before a break stays. Returns the bytes that are there.
 * Errors  AppError "conflict" when the part does not follow what is there or another one is coming.
 */
export async function takePart(id: string, from: number, body: AsyncIterable<Uint8Array>): Promise<number> {
  const upload = await findUpload(id);
  const received = await receivedOf(id);
  if (busy.has(id)) throw new AppError("conflict", `${upload.name} is being sent by another page.`);
  if (from !== received)
    throw new AppError(
      "conflict",
      `${received} bytes of ${upload.name} are there, not ${from}; go on from there.`,
    );
  busy.add(id);
  try {
    const tooMuch = () =>
      new AppError("invalid", `More bytes came than the ${upload.bytes} of ${upload.name}.`);
    const within = atMost(upload.bytes - received, tooMuch);
    await append(partOf(id), received, within(body));
  } finally {
    busy.delete(id);
  }
  return receivedOf(id);
}

/** The whole file on disk. Errors  AppError when bytes are missing. */
export async function wholeUpload(id: string): Promise<{ upload: Upload; path: string }> {
  const upload = await findUpload(id);
  const received = await receivedOf(id);
  if (received !== upload.bytes)
    throw new AppError("conflict", `${received} of ${upload.bytes} bytes of ${upload.name} are there.`);
  return { upload, path: partOf(id) };
}

/** Forgets an upload and its bytes. */
export async function endUpload(id: string): Promise<void> {
  await rm(noteOf(id), { force: true });
  await rm(partOf(id), { force: true });
}
