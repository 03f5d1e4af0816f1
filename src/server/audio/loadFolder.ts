import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { AudioFileError } from "../../core/file/sampleFormat";
import { startsOf } from "../../core/gather/place";
import { decodeFile, type Decoded } from "./decodeFile";
import { resample } from "./resample";
import { entriesOf, openZip, streamOf, usableEntries } from "./zip";

export interface LoadedMic {
  file: string;
  channels: Float32Array[];
  /** Frame of the song at which the file begins. */
  start: number;
}

export interface LoadedFolder {
  sampleRate: number;
  mics: LoadedMic[];
  /** What was left out or changed, one sentence each. */
  remarks: string[];
}

const audioNames = /\.(wav|wave|bwf|rf64|aif|aiff|aifc|flac)$/i;

const bytesOf = (path: string): Uint8Array => {
  const bytes = readFileSync(path);
  return new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength);
};

/** Audio files of a folder or ZIP archive by name, each read when its turn comes. */
async function* filesOf(path: string): AsyncGenerator<[string, Uint8Array]> {
  if (/\.zip$/i.test(path) && statSync(path, { throwIfNoEntry: false })?.isFile()) {
    const zip = await openZip(path);
    try {
      for (const [name, entry] of usableEntries(await entriesOf(zip))) {
        if (!audioNames.test(name)) continue;
        const parts: Buffer[] = [];
        for await (const part of streamOf(zip, entry)) parts.push(part);
        yield [name.replace(/^.*\//, ""), new Uint8Array(Buffer.concat(parts))];
      }
    } finally {
      zip.close();
    }
    return;
  }
  let names: string[];
  try {
    names = readdirSync(path).sort();
  } catch {
    throw new Error(`${path} is not a folder or ZIP archive that can be read`);
  }
  for (const name of names)
    if (audioNames.test(name) && statSync(join(path, name)).isFile()) yield [name, bytesOf(join(path, name))];
}

/** The most frequent sample rate, the higher one of two. */
function commonRate(files: readonly Decoded[]): number {
  const count = new Map<number, number>();
  for (const { sampleRate } of files) count.set(sampleRate, (count.get(sampleRate) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]![0];
}

/**
 * Reads all audio files of a folder or ZIP archive, sorted by name. A damaged file is named and left out; files of another
 * sample rate than the most common one are converted; files that start late by their time reference fall in place.
 * Errors  Error in one line when the folder cannot be read or holds no usable file.
 */
export async function loadFolder(path: string): Promise<LoadedFolder> {
  const remarks: string[] = [];
  const read: (Decoded & { file: string })[] = [];
  for await (const [file, bytes] of filesOf(path)) {
    try {
      const decoded = await decodeFile(bytes);
      read.push({ file, ...decoded });
      for (const remark of decoded.remarks) remarks.push(`${file}: ${remark}`);
    } catch (error) {
      if (!(error instanceof AudioFileError) && !(error instanceof RangeError)) throw error;
      remarks.push(`${file} ${error.message}; left out`);
    }
  }
  if (read.length === 0)
    throw new Error(
      `${path} holds no usable audio file${remarks.length > 0 ? `: ${remarks.join("; ")}` : ""}`,
    );
  const sampleRate = commonRate(read);
  const times = read.map((r) => r.time);
  const starts = startsOf(times, sampleRate);
  const mics: LoadedMic[] = [];
  for (const [i, one] of read.entries()) {
    const start = starts[i]!;
    if (one.sampleRate !== sampleRate)
      remarks.push(`${one.file} was converted from ${one.sampleRate} to ${sampleRate} Hz`);
    if (start > 0) remarks.push(`${one.file} begins ${(start / sampleRate).toFixed(3)} s into the song`);
    mics.push({ file: one.file, channels: await resample(one.channels, one.sampleRate, sampleRate), start });
  }
  return { sampleRate, mics, remarks };
}
