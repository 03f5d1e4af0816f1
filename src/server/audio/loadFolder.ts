import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { AudioFileError, readWav } from "../../core/file/wav";
import { resample } from "./resample";

export interface LoadedMic {
  file: string;
  channels: Float32Array[];
}

export interface LoadedFolder {
  sampleRate: number;
  mics: LoadedMic[];
  /** What was left out or changed, one sentence each. */
  remarks: string[];
}

/**
 * Reads all WAV files of a folder, sorted by name. A damaged file is named and left out; files of another sample rate
 * than the most common one are converted.
 * Errors  Error in one line when the folder cannot be read or holds no usable file.
 */
export async function loadFolder(folder: string): Promise<LoadedFolder> {
  let names: string[];
  try {
    names = readdirSync(folder).sort();
  } catch {
    throw new Error(`${folder} is not a folder that can be read`);
  }
  const remarks: string[] = [];
  const read: { file: string; sampleRate: number; channels: Float32Array[] }[] = [];
  for (const file of names) {
    const path = join(folder, file);
    if (!/\.(wav|wave|bwf|rf64)$/i.test(file) || !statSync(path).isFile()) continue;
    try {
      const bytes = readFileSync(path);
      const { sampleRate, channels, info } = readWav(
        new Uint8Array(bytes.buffer, bytes.byteOffset, bytes.byteLength),
      );
      read.push({ file, sampleRate, channels });
      for (const remark of info.remarks) remarks.push(`${file}: ${remark}`);
    } catch (error) {
      if (!(error instanceof AudioFileError) && !(error instanceof RangeError)) throw error;
      remarks.push(`${file} ${error.message}; left out`);
    }
  }
  if (read.length === 0)
    throw new Error(
      `${folder} holds no usable WAV file${remarks.length > 0 ? `: ${remarks.join("; ")}` : ""}`,
    );
  const count = new Map<number, number>();
  for (const { sampleRate } of read) count.set(sampleRate, (count.get(sampleRate) ?? 0) + 1);
  const sampleRate = [...count].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]![0];
  const mics: LoadedMic[] = [];
  for (const one of read) {
    if (one.sampleRate !== sampleRate)
      remarks.push(`${one.file} was converted from ${one.sampleRate} to ${sampleRate} Hz`);
    mics.push({ file: one.file, channels: await resample(one.channels, one.sampleRate, sampleRate) });
  }
  return { sampleRate, mics, remarks };
}
