import type { Readable } from "node:stream";
import { crc32 } from "node:zlib";
import yauzl from "yauzl";
import { uniqueName } from "../../core/file/uniqueName";
import { AppError } from "../errors";

/** Opens a ZIP file on disk. Errors  AppError when it is none. */
export const openZip = (path: string): Promise<yauzl.ZipFile> =>
  new Promise((resolve, reject) =>
    yauzl.open(path, { lazyEntries: true, autoClose: false }, (error, zip) =>
      error
        ? reject(new AppError("invalid", `This is not a readable archive: ${error.message}.`))
        : resolve(zip),
    ),
  );

/** All entries by name; one whose name is taken gets a number, so that none is lost. Errors  AppError when it is damaged or holds more than a thousand. */
export const entriesOf = (zip: yauzl.ZipFile): Promise<Map<string, yauzl.Entry>> =>
  new Promise((resolve, reject) => {
    const entries = new Map<string, yauzl.Entry>();
    zip.on("entry", (entry: yauzl.Entry) => {
      entries.set(uniqueName(entry.fileName, [...entries.keys()]), entry);
      if (entries.size > 1000)
        return reject(new AppError("invalid", "The archive holds more than 1000 entries."));
      zip.readEntry();
    });
    zip.on("end", () => resolve(entries));
    zip.on("error", (error: Error) =>
      reject(new AppError("invalid", `The archive is damaged: ${error.message}.`)),
    );
    zip.readEntry();
  });

const openEntry = (zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<Readable> =>
  new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, stream) =>
      error ? reject(damaged(entry, error.message)) : resolve(stream),
    ),
  );

const damaged = (entry: yauzl.Entry, what: string): AppError =>
  new AppError("invalid", `${entry.fileName} in the archive is damaged: ${what}.`);

/** The bytes of an entry. Errors  AppError where it cannot be unpacked or its checksum does not fit. */
export async function* streamOf(zip: yauzl.ZipFile, entry: yauzl.Entry): AsyncGenerator<Buffer> {
  const stream = await openEntry(zip, entry);
  // What the reader of the bytes throws is its own; only what unpacking fails with is the archive's.
  let broken: Error | undefined;
  stream.once("error", (error) => (broken = error));
  let sum = 0;
  try {
    for await (const piece of stream) {
      sum = crc32(piece as Buffer, sum);
      yield piece as Buffer;
    }
  } catch (error) {
    throw broken ? damaged(entry, broken.message) : error;
  }
  if (sum !== entry.crc32) throw damaged(entry, "its checksum does not fit");
}

/** Names of entries that are files worth looking at: no folders, no hidden ones of the system that packed them. */
export const usableEntries = (entries: ReadonlyMap<string, yauzl.Entry>): [string, yauzl.Entry][] =>
  [...entries]
    .filter(([name]) => !name.endsWith("/") && !/(^|\/)(__MACOSX\/|\.)/.test(name))
    .sort(([a], [b]) => (a < b ? -1 : 1));
