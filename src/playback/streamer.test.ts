import { asRecorded } from "../core/engine/oneShots/readings";
import { afterEach, beforeEach, describe, expect, test } from "@jest/globals";
import { blockFrames } from "../core/engine/engine";
import { readAudioHeader } from "../core/file/audioFile";
import { writeWav } from "../core/file/wavWrite";
import { noise } from "../core/testing/signals";
import { allocateRing, Ring } from "./ring";
import { Streamer } from "./streamer";
import type { FromStream } from "./messages";

const frames = 100_000;
const x = noise(frames, 6);
const file = writeWav({ sampleRate: 48000, channels: [x] }, "wav32f");
const info = readAudioHeader(file, file.length);
const realFetch = globalThis.fetch;
let broken = 0;
let asked = 0;
let slow = 0;
let opened: Streamer | null = null;

/** The server's route for frames side by side, which breaks as often as `broken` says. */
beforeEach(() => {
  globalThis.fetch = (async (url: string, { signal }: { signal: AbortSignal }) => {
    asked++;
    for (const end = performance.now() + slow; performance.now() < end;) {
      await new Promise((resolve) => setTimeout(resolve, 5));
      signal.throwIfAborted();
    }
    if (broken > 0) {
      broken--;
      throw new Error("connection lost");
    }
    const query = new URL(url, "http://x").searchParams;
    const from = Number(query.get("from"));
    const to = Math.min(frames, from + Number(query.get("count")));
    const part = { ...info, skip: 0, frames: Math.max(0, to - from) };
    const head = new TextEncoder().encode(JSON.stringify([part]));
    const size = new Uint8Array(new Uint32Array([head.length]).buffer);
    const at = info.dataStart;
    const data = file.slice(at + from * info.frameBytes, at + Math.max(from, to) * info.frameBytes);
    return new Response(new Uint8Array([...size, ...head, ...data]));
  }) as unknown as typeof fetch;
});
afterEach(() => {
  opened?.close();
  globalThis.fetch = realFetch;
});

function start(): {
  ring: Ring;
  streamer: Streamer;
  told: FromStream[];
  read: (generation: number, blocks: number) => Promise<{ positions: number[]; audio: Float32Array }>;
} {
  const memory = allocateRing(1);
  const told: FromStream[] = [];
  const streamer = new Streamer(
    (m) => told.push(m),
    () => new Promise((resolve) => setTimeout(resolve, 1)),
  );
  opened = streamer;
  streamer.receive({
    type: "open",
    ring: memory,
    mics: [{ audio: "a", channels: 1, start: 0 }],
    frames,
    sampleRate: 48000,
  });
  const ring = new Ring(memory);
  const read = async (generation: number, blocks: number) => {
    const positions: number[] = [];
    const audio = new Float32Array(blocks * blockFrames);
    for (let b = 0; b < blocks;) {
      if (!ring.ready(generation)) {
        await new Promise((resolve) => setTimeout(resolve, 1));
        continue;
      }
      positions.push(ring.frontPosition());
      audio.set(ring.front()[0]!, blockFrames * b++);
      ring.pop();
    }
    return { positions, audio };
  };
  return { ring, streamer, told, read };
}
const seek = (position: number, generation: number, loop: { from: number; to: number } | null = null) => ({
  type: "seek" as const,
  position,
  generation,
  stretches: loop && [loop],
  again: loop !== null,
  readings: [],
  otherReadings: null,
});

describe("streamer", () => {
  test("streams the recording bit for bit over page borders, from any frame", async () => {
    const { streamer, read } = start();
    streamer.receive(seek(1001, 0));
    const { audio, positions } = await read(0, 400);
    expect(positions[0]).toBe(1001);
    expect(audio.every((v, i) => v === x[1001 + i])).toBe(true);
  });
  test("a jump replaces the stream; what was read before it is never heard", async () => {
    const { streamer, read } = start();
    streamer.receive(seek(0, 0));
    await read(0, 10);
    streamer.receive(seek(50_000, 1));
    const { audio } = await read(1, 50);
    expect(audio.every((v, i) => v === x[50_000 + i])).toBe(true);
  });
  test("a loop goes back without a gap, whatever its length and the place it is entered at", async () => {
    const { streamer, read } = start();
    const loop = { from: 2000, to: 2000 + 10 * blockFrames + 50 };
    streamer.receive(seek(2300, 0, loop));
    const { positions } = await read(0, 60);
    const length = 10 * blockFrames; // rounded to whole blocks
    expect(positions.every((p) => p >= loop.from && p < loop.from + length)).toBe(true);
    for (let i = 1; i < positions.length; i++)
      expect([positions[i - 1]! + blockFrames, loop.from]).toContain(positions[i]);
    expect(positions.filter((p) => p === loop.from).length).toBeGreaterThan(4);
  });
  test("a broken connection is told, tried again, and told when it is over", async () => {
    const { streamer, read, told } = start();
    broken = 3;
    streamer.receive(seek(0, 0));
    const { audio } = await read(0, 20);
    expect(audio.every((v, i) => v === x[i])).toBe(true);
    expect(told[0]).toEqual({ type: "waiting", message: "connection lost" });
    expect(told[told.length - 1]).toEqual({ type: "flowing" });
  });
  test("stretches are played one after another, joined without a step, and the end is told", async () => {
    const { streamer, read, told } = start();
    const list = [0, 20_000, 50_000].map((from) => ({ from, to: from + 8 * blockFrames }));
    streamer.receive({ ...seek(0, 0), stretches: list, again: false });
    const { positions, audio } = await read(0, 30);
    expect(positions.filter((_, i) => i % 8 === 0).slice(0, 3)).toEqual([0, 20_000, 50_000]);
    // Within a stretch every frame is the recording's; its last block fades over to what leads to the next.
    expect(audio[3 * blockFrames + 5]).toBe(x[3 * blockFrames + 5]);
    const seam = 8 * blockFrames;
    expect(Math.abs(audio[seam - 1]! - x[20_000 - 1]!)).toBeLessThan(0.02);
    expect(audio[seam]).toBe(x[20_000]);
    expect(audio.subarray(24 * blockFrames).every((v) => v === 0)).toBe(true);
    expect(told.find((m) => m.type === "ending")).toMatchObject({
      generation: 0,
      frame: 50_000 + 8 * blockFrames,
    });
  });
  test("the other side's timing comes in the same blocks", async () => {
    const { streamer, ring } = start();
    const edits = [{ at: 1000, shift: 100, fade: 50, likeness: 1, jumpDb: null }];
    streamer.receive({
      ...seek(2048, 0),
      readings: [{ cuts: [edits], placed: null }],
      otherReadings: [asRecorded],
    });
    while (!ring.ready(0)) await new Promise((resolve) => setTimeout(resolve, 1));
    expect(ring.front()[0]![7]).toBe(x[2048 + 7 - 100]);
    expect(ring.frontOther()[0]![7]).toBe(x[2048 + 7]);
  });
  test("far ahead of the playhead few questions bring much; a loop asks nothing again", async () => {
    const { streamer, read } = start();
    asked = 0;
    streamer.receive(seek(0, 0));
    await read(0, 700);
    expect(asked).toBeLessThan(25); // of 44 pages
    streamer.receive(seek(4096, 1, { from: 4096, to: 4096 + 40 * blockFrames }));
    await read(1, 40);
    const before = asked;
    await read(1, 400);
    expect(asked).toBe(before);
  });
  test("a jump breaks off what is on its way and waits for nothing of it", async () => {
    const { streamer, read, told } = start();
    slow = 200;
    streamer.receive(seek(0, 0));
    await new Promise((resolve) => setTimeout(resolve, 20));
    slow = 0;
    streamer.receive(seek(200, 1)); // the same pages: the broken question must not be taken for theirs
    const { audio } = await read(1, 30);
    expect(audio.every((v, i) => v === x[200 + i])).toBe(true);
    expect(told).toEqual([]);
  });
});
