import { readdirSync, statSync } from "node:fs";
import { availableParallelism } from "node:os";
import { join } from "node:path";
import { startsOf } from "../../core/gather/place";
import { askAll, bundledFile, Thread } from "../thread";
import type { Decoded } from "./decodeFile";
import { bytesOf, decodeShared, type DecodeReply } from "./decodeShared";
import { resample } from "./convert";
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

/** Audio files of a ZIP archive by name, one after the other. */
async function* filesOfZip(path: string): AsyncGenerator<[string, DecodeReply]> {
  const zip = await openZip(path);
  try {
    for (const [name, entry] of usableEntries(await entriesOf(zip))) {
      if (!audioNames.test(name)) continue;
      const parts: Buffer[] = [];
      for await (const part of streamOf(zip, entry)) parts.push(part);
      yield [name.replace(/^.*\//, ""), await decodeShared(new Uint8Array(Buffer.concat(parts)))];
    }
  } finally {
    zip.close();
  }
}

/** Audio files of a folder by name, decoded by as many threads as there are cores. */
async function filesOfFolder(path: string): Promise<[string, DecodeReply][]> {
  let names: string[];
  try {
    names = readdirSync(path).sort();
  } catch {
    throw new Error(`${path} is not a folder or ZIP archive that can be read`);
  }
  const files = names.filter((name) => audioNames.test(name) && statSync(join(path, name)).isFile());
  const worker = bundledFile("decodeWorker.mjs");
  const threads = Math.min(availableParallelism(), files.length);
  const crew =
    worker && threads > 1
      ? Array.from({ length: threads }, () => new Thread<string, DecodeReply>(worker))
      : [];
  const here = { ask: (file: string) => decodeShared(bytesOf(file)) };
  const paths = files.map((name) => join(path, name));
  const replies = await askAll(crew.length > 0 ? crew : [here], paths).finally(() =>
    crew.forEach((t) => t.close()),
  );
  return files.map((name, i) => [name, replies[i]!]);
}

const isZip = (path: string): boolean =>
  /\.zip$/i.test(path) && statSync(path, { throwIfNoEntry: false })?.isFile() === true;

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
  for await (const [file, reply] of isZip(path) ? filesOfZip(path) : await filesOfFolder(path)) {
    if ("error" in reply) {
      if (!reply.unreadable) throw new Error(`${file}: ${reply.error}`);
      remarks.push(`${file} ${reply.error}; left out`);
    } else {
      read.push({ file, ...reply.decoded });
      for (const remark of reply.decoded.remarks) remarks.push(`${file}: ${remark}`);
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
