import { afterEach, beforeEach, describe, expect, test } from "@jest/globals";
import { encodeFrames } from "../core/file/wavWrite";
import { randomSource } from "../core/signal/random";
import { noise } from "../core/testing/signals";
import { pageFrames, SongPages } from "./songPages";
import { fetchStretch } from "./micAudio";

// A server behind `fetch` that holds three mics as 32-bit floats, one of them a pair, one beginning late.
const frames = 40 * pageFrames + 100;
const mics = [
  { audio: "a", start: 0, channels: 1, audioFrames: frames },
  { audio: "b", start: 3000, channels: 2, audioFrames: frames - 9000 },
  { audio: "c", start: 0, channels: 1, audioFrames: 10 },
];
const files = mics.map((m, i) =>
  Array.from({ length: m.channels }, (_, ch) => noise(m.audioFrames, 10 * i + ch + 1)),
);
const recorded = (mic: number, ch: number, frame: number): number =>
  files[mic]![ch]![frame - mics[mic]!.start] ?? 0;

let asked: string[] = [];
let holding: (() => void)[] | null = null;
let broken = 0;
const answer = async (path: unknown, init?: RequestInit): Promise<Response> => {
  const url = new URL(String(path), "http://page");
  asked.push(`${url.searchParams.get("from")}+${url.searchParams.get("count")}`);
  const [from, count] = [Number(url.searchParams.get("from")), Number(url.searchParams.get("count"))];
  if (holding) await new Promise<void>((go) => holding!.push(go));
  if (init?.signal?.aborted) throw new DOMException("broken off", "AbortError");
  if (broken > 0) {
    broken--;
    return new Response("", { status: 503 });
  }
  expect(url.searchParams.get("ids")).toBe("a,b,c");
  const starts = url.searchParams.get("starts")!.split(",").map(Number);
  const parts = mics.map(({ channels, audioFrames }, i) => {
    const skip = Math.min(count, Math.max(0, starts[i]! - from));
    const first = Math.max(0, from - starts[i]!);
    return {
      sampleFormat: "float32",
      channels,
      frameBytes: 4 * channels,
      skip,
      first,
      frames: Math.max(0, Math.min(audioFrames - first, count - skip)),
    };
  });
  const head = new TextEncoder().encode(JSON.stringify(parts));
  const bodies = parts.map((p, i) =>
    p.frames > 0 ? encodeFrames(files[i]!, "wav32f", p.first, p.frames, randomSource(1)) : new Uint8Array(0),
  );
  const size = new Uint8Array(4);
  new DataView(size.buffer).setUint32(0, head.length, true);
  return new Response(Buffer.concat([size, head, ...bodies]));
};
const original = globalThis.fetch;
beforeEach(() => {
  asked = [];
  holding = null;
  broken = 0;
  globalThis.fetch = answer as typeof fetch;
});
afterEach(() => {
  globalThis.fetch = original;
});
const open = () => new SongPages(mics, frames);
const never = new AbortController().signal;
function expectThere(pages: SongPages, from: number, count: number): void {
  mics.forEach((m, mic) => {
    for (let ch = 0; ch < m.channels; ch++) {
      const out = new Float32Array(count + 5).fill(9);
      pages.read(mic, ch, from, count, out, 5);
      expect(out[4]).toBe(9);
      for (let i = 0; i < count; i++) expect(out[5 + i]).toBe(recorded(mic, ch, from + i));
    }
  });
}

describe("audio of all mics by pages", () => {
  test("what was loaded is what was recorded: across pages, before a late mic begins and behind a short one's end", async () => {
    const pages = open();
    await pages.load(1000, 3 * pageFrames + 500, never);
    expectThere(pages, 1000, 2 * pageFrames);
    expectThere(pages, pageFrames - 3, 6);
    expect(asked).toEqual([`0+${4 * pageFrames}`]);
  });
  test("what is there is not asked for again; a gap is asked for alone", async () => {
    const pages = open();
    await pages.load(0, pageFrames, never);
    await pages.load(4 * pageFrames, 5 * pageFrames, never);
    await pages.load(0, 6 * pageFrames, never);
    expect(asked.slice(2)).toEqual([`${pageFrames}+${3 * pageFrames}`, `${5 * pageFrames}+${pageFrames}`]);
    await pages.load(0, 6 * pageFrames, never);
    expect(asked).toHaveLength(4);
    expectThere(pages, 0, 6 * pageFrames);
  });
  test("a long stretch comes in questions of a size, to the end of the song and no further", async () => {
    const pages = open();
    await pages.load(0, 10 * frames, never);
    expect(asked).toEqual([`0+${32 * pageFrames}`, `${32 * pageFrames}+${9 * pageFrames}`]);
    expectThere(pages, frames - 200, 100);
  });
  test("what is on its way is waited for, and asked for once", async () => {
    const pages = open();
    holding = [];
    const both = [pages.load(0, pageFrames, never), pages.load(0, 2 * pageFrames, never)];
    await new Promise((r) => setTimeout(r, 5));
    expect(asked).toEqual([`0+${pageFrames}`, `${pageFrames}+${pageFrames}`]);
    for (const go of holding) go();
    await Promise.all(both);
    expectThere(pages, 0, 2 * pageFrames);
  });
  test("what was broken off comes for the next who asks, and the first is told", async () => {
    const pages = open();
    holding = [];
    const stop = new AbortController();
    const first = pages.load(0, pageFrames, stop.signal).catch((e: Error) => e.name);
    await new Promise((r) => setTimeout(r, 5));
    stop.abort();
    const second = pages.load(0, pageFrames, never);
    await new Promise((r) => setTimeout(r, 5));
    for (const go of holding) go();
    expect(await first).toBe("AbortError");
    await second;
    expect(asked).toHaveLength(2);
    expectThere(pages, 0, pageFrames);
  });
  test("a server that says no is told with its status, and the pages are asked for anew", async () => {
    const pages = open();
    broken = 1;
    await expect(pages.load(0, pageFrames, never)).rejects.toThrow("the server answered 503");
    const silent = new Float32Array(10).fill(1);
    pages.read(0, 0, 0, 10, silent, 0);
    expect(silent.every((v) => v === 0)).toBe(true);
    await pages.load(0, pageFrames, never);
    expectThere(pages, 0, pageFrames);
  });
});

describe("a stretch that the server makes", () => {
  const made = (status: number, body: object | Float32Array, head = {}) =>
    new Response(
      body instanceof Float32Array ? new Uint8Array(body.buffer as ArrayBuffer) : JSON.stringify(body),
      { status, headers: head as HeadersInit },
    );
  test("is waited for while the song is being saved, and comes channel by channel", async () => {
    let times = 0;
    globalThis.fetch = (async () =>
      ++times < 3
        ? made(409, { message: "not yet" })
        : made(200, Float32Array.of(1, 2, 3, 4, 5, 6), {
            "x-stretch": '{"from":700,"channels":2}',
          })) as typeof fetch;
    const { from, channels } = await fetchStretch("/x");
    expect([times, from]).toEqual([3, 700]);
    expect(channels.map((c) => [...c])).toEqual([
      [1, 2, 3],
      [4, 5, 6],
    ]);
  });
  test("is refused in the server's words, else by its status", async () => {
    globalThis.fetch = (async () => made(400, { message: "nothing goes into Room" })) as typeof fetch;
    await expect(fetchStretch("/x")).rejects.toThrow("nothing goes into Room");
    globalThis.fetch = (async () => new Response("<html>", { status: 502 })) as typeof fetch;
    await expect(fetchStretch("/x")).rejects.toThrow("the server answered 502");
  });
});
