import { afterEach, beforeEach, describe, expect, test } from "@jest/globals";
import { blockFrames } from "../core/engine/engine";
import { readWavHeader, writeWav } from "../core/file/wav";
import { noise } from "../core/testing/signals";
import { allocateRing, Ring } from "./ring";
import { Streamer } from "./streamer";
import type { FromStream } from "./messages";

const frames = 100_000;
const x = noise(frames, 6);
const file = writeWav({ sampleRate: 48000, channels: [x] }, "wav32f");
const info = readWavHeader(file, file.length);
const realFetch = globalThis.fetch;
let broken = 0;
let opened: Streamer | null = null;

/** The server's audio route, which breaks as often as `broken` says. */
beforeEach(() => {
  globalThis.fetch = (async (_: string, init: { headers: { range: string } }) => {
    if (broken > 0) {
      broken--;
      throw new Error("connection lost");
    }
    const [from, to] = /bytes=(\d+)-(\d+)/.exec(init.headers.range)!.slice(1).map(Number);
    return new Response(file.slice(from, to! + 1), { status: 206, headers: { "x-audio": JSON.stringify(info) } });
  }) as unknown as typeof fetch;
}); // prettier-ignore
afterEach(() => {
  opened?.close();
  globalThis.fetch = realFetch;
});

function start(): { ring: Ring; streamer: Streamer; told: FromStream[]; read: (generation: number, blocks: number) => Promise<{ positions: number[]; audio: Float32Array }> } {
  const memory = allocateRing(1);
  const told: FromStream[] = [];
  const streamer = new Streamer((m) => told.push(m), () => new Promise((resolve) => setTimeout(resolve, 1)));
  opened = streamer;
  streamer.receive({ type: "open", ring: memory, mics: [{ audio: "a", channels: 1 }], frames });
  const ring = new Ring(memory);
  const read = async (generation: number, blocks: number) => {
    const positions: number[] = [];
    const audio = new Float32Array(blocks * blockFrames);
    for (let b = 0; b < blocks; ) {
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
} // prettier-ignore
const seek = (position: number, generation: number, loop: { from: number; to: number } | null = null) =>
  ({ type: "seek", position, generation, loop, edits: [] }) as const;

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
});
