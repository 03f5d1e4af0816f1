import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { micFile } from "../demo/demoSong";
import { simulate, type Truth } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { writeWav, type WriteFormat } from "../src/core/file/wavWrite";
import { noise } from "../src/core/testing/signals";

/** Folder for files that tests make. */
export const scratch = join(process.cwd(), "test-results/files");

export interface TestKit {
  folder: string;
  files: string[];
  truth: Truth;
}

/** Writes a short simulated kit with names and faults of its own; one file is damaged when `damaged`. */
export function writeKit(name: string, seed: number, bars: number, damaged = false): TestKit {
  const folder = join(scratch, name);
  mkdirSync(folder, { recursive: true });
  const { kit, song } = variedKit(seed, bars);
  const { mics, truth } = simulate(kit, song, 48000, seed);
  const files = mics.map((m) => {
    const path = join(folder, m.spec.file);
    writeFileSync(path, micFile(m, 48000));
    return path;
  });
  if (damaged) {
    const path = join(folder, "broken.wav");
    writeFileSync(path, micFile(mics[0]!, 48000).slice(0, 5000));
    files.push(path);
  }
  return { folder, files, truth };
}

/** A WAV file of noise in memory. */
export const noiseWav = (frames: number, format: WriteFormat = "wav16", seed = 1, rate = 48000): Buffer =>
  Buffer.from(writeWav({ sampleRate: rate, channels: [noise(frames, seed)] }, format));
