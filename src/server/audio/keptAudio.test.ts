import { afterAll, expect, test } from "@jest/globals";
import { mkdtempSync, readdirSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { checkKit } from "../../core/deliver/checks";
import { measureAudio } from "../../core/measure/measureAudio";
import { pieceFrames } from "../../core/signal/samples";
import { noise } from "../../core/testing/signals";
import { keepAudio } from "./keptAudio";

const folder = mkdtempSync(join(tmpdir(), "jubo-kept-"));
afterAll(() => rmSync(folder, { recursive: true }));

const rate = 48000;
const frames = 3 * pieceFrames + 777;
/** Two sides with silence at both ends, some samples clipped in a row across the border of two pieces, and an offset. */
const channels = [1, 2].map((seed) => {
  const x = noise(frames, seed, 0.3).map((v) => v + 0.01);
  x.fill(0, 0, 5000).fill(0, frames - 3000);
  if (seed === 1) x.fill(1, 2 * pieceFrames - 2, 2 * pieceFrames + 2);
  return x;
});

test("what is kept on the disk is what came, in blocks of any length, and no file is left", async () => {
  const kept = await keepAudio(2, frames, folder, 0);
  for (let at = 0, n = 1; at < frames; at += n, n = 1 + ((7 * n) % 90_001))
    kept.take(channels.map((x) => x.subarray(at, at + n)));
  kept.end();
  expect(kept.channels.map((x) => x.subarray(0))).toEqual(channels);
  expect(readdirSync(folder)).toEqual([]);
  await kept.close();
});

test("audio on the disk measures as in memory, to the bit", async () => {
  const [disk, memory] = [await keepAudio(2, frames, folder, 0), await keepAudio(2, frames, folder)];
  for (const kept of [disk, memory]) {
    kept.take(channels);
    kept.end();
  }
  expect(memory.channels[0]).toBeInstanceOf(Float32Array);
  expect(disk.channels[0]).not.toBeInstanceOf(Float32Array);
  const measured = measureAudio(disk.channels, rate);
  expect(measured).toEqual(measureAudio(memory.channels, rate));
  expect(measured.clippedSamples).toBe(4);
  expect(checkKit(disk.channels, rate)).toEqual(checkKit(memory.channels, rate));
  expect(checkKit(disk.channels, rate)).toMatchObject({ silentStart: 5000 / rate, silentEnd: 3000 / rate });
  await disk.close();
});
