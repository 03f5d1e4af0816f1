import { get } from "node:http";
import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { expect, test, type APIRequestContext } from "@playwright/test";
import type { Delivered } from "../src/contract";
import { readAudioHeader } from "../src/core/file/audioFile";
import type { Song } from "../src/core/song/song";
import { noiseWav, writeKit } from "./kit";
import { sendFile } from "./songApi";

interface Opened {
  song: Song;
  version: number;
  undo: string | null;
  redo: string | null;
}
const open = async (request: APIRequestContext, id: string): Promise<Opened> =>
  (await (await request.get(`/api/songs/${id}`)).json()) as Opened;
const newSong = async (request: APIRequestContext, title = "Test"): Promise<string> =>
  ((await (await request.post("/api/songs", { data: { title } })).json()) as { id: string }).id;
const change = (request: APIRequestContext, id: string, version: number, operation: object) =>
  request.post(`/api/songs/${id}/operations`, { data: { version, label: "test", operation } });
const kickLevel = (level: number, mic: string) => ({ op: "setMic", mic, values: { level } });

test("originals come back bit for bit, whole and by range (RFC 9110)", async ({ request }) => {
  const id = await newSong(request);
  const bytes = noiseWav(300_000, "wav24");
  expect((await sendFile(request, id, "Kick.wav", bytes)).status()).toBe(200);
  const { audio } = (await open(request, id)).song.mics[0]!;
  const whole = await request.get(`/api/audio/${audio}`);
  expect(
    createHash("sha256")
      .update(await whole.body())
      .digest("hex"),
  ).toBe(createHash("sha256").update(bytes).digest("hex"));
  const part = await request.get(`/api/audio/${audio}`, { headers: { range: "bytes=262000-530000" } });
  expect(part.status()).toBe(206);
  expect(part.headers()["content-range"]).toBe(`bytes 262000-530000/${bytes.length}`);
  expect((await part.body()).equals(bytes.subarray(262000, 530001))).toBe(true);
  const last = await request.get(`/api/audio/${audio}`, { headers: { range: "bytes=-10" } });
  expect((await last.body()).equals(bytes.subarray(-10))).toBe(true);
  expect((await request.get(`/api/audio/${audio}`, { headers: { range: "bytes=99999999-" } })).status()).toBe(
    416,
  );
  expect(
    (
      await request.get(`/api/audio/${audio}`, { headers: { "if-none-match": whole.headers()["etag"]! } })
    ).status(),
  ).toBe(304);
});

test("the same frames of several mics come in one answer, also over chunks and beyond the end of one", async ({
  request,
}) => {
  const id = await newSong(request);
  const long = noiseWav(300_000, "wav24", 1);
  const short = noiseWav(100_000, "wav16", 2);
  await sendFile(request, id, "Kick.wav", long);
  await sendFile(request, id, "Snare.wav", short);
  const { mics } = (await open(request, id)).song;
  const ids = mics.map((m) => m.audio).join(",");
  const [from, count] = [80_000, 40_000];
  const body = await (await request.get(`/api/audio?ids=${ids}&from=${from}&count=${count}`)).body();
  const head = body.readUInt32LE(0);
  const parts = JSON.parse(body.subarray(4, 4 + head).toString()) as { frames: number; frameBytes: number }[];
  expect(parts.map((p) => p.frames)).toEqual([40_000, 20_000]);
  const data = (file: Buffer, bytes: number, frames: number) => {
    const { dataStart } = readAudioHeader(file, file.length);
    return file.subarray(dataStart + from * bytes, dataStart + (from + frames) * bytes);
  };
  const wanted = Buffer.concat([data(long, 3, 40_000), data(short, 2, 20_000)]);
  expect(body.subarray(4 + head).equals(wanted)).toBe(true);
  for (const [query, status] of [
    [`ids=${ids}&from=-1&count=10`, 400],
    [`ids=${ids}&from=0&count=999999999`, 400],
    [`ids=${ids}&from=x&count=10`, 400],
    ["ids=nonsense&from=0&count=10", 400],
    ["from=0&count=10", 400],
    ["ids=00000000-0000-4000-8000-000000000000&from=0&count=10", 404],
  ] as const)
    expect((await request.get(`/api/audio?${query}`)).status()).toBe(status);
});

test("earlier states are listed and can be read; the song itself is not moved", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(5000));
  const { song, version } = await open(request, id);
  const mic = song.mics[0]!.id;
  for (const [n, level] of [-3, -6, -9].entries())
    await change(request, id, version + n, kickLevel(level, mic));
  const past = (
    (await (await request.get(`/api/songs/${id}/history`)).json()) as {
      past: { position: number; before: string }[];
    }
  ).past;
  expect(past.slice(0, 3).map((p) => p.before)).toEqual(["test", "test", "test"]);
  const at = async (position: number) =>
    ((await (await request.get(`/api/songs/${id}/history?position=${position}`)).json()) as { song: Song })
      .song;
  expect((await at(past[0]!.position)).mics[0]!.level).toBe(-6);
  expect((await at(past[2]!.position)).mics[0]!.level).toBe(0);
  expect((await open(request, id)).song.mics[0]!.level).toBe(-9);
  expect((await request.get(`/api/songs/${id}/history?position=99`)).status()).toBe(404);
  expect((await request.get(`/api/songs/${id}/history?position=x`)).status()).toBe(400);
});

test("values by section are checked by the parameter's declaration", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(5000));
  const { song, version } = await open(request, id);
  const owner = song.mics[0]!.id;
  const set = (bySection: object) => ({ op: "setProcessor", owner, processor: `${owner}.trim`, bySection });
  const wrong = await change(request, id, version, set({ verse: { gain: 400 } }));
  expect(wrong.status()).toBe(400);
  expect(((await wrong.json()) as { message: string }).message).toContain("between -40 and 40");
  expect((await change(request, id, version, set({ verse: { gain: -4 } }))).status()).toBe(200);
  const trim = (await open(request, id)).song.mics[0]!.chain.find((p) => p.type === "trim")!;
  expect(trim.bySection).toEqual({ verse: { gain: -4 } });
  await request.post(`/api/songs/${id}/history`, { data: { version: version + 1, direction: "undo" } });
  expect((await open(request, id)).song.mics[0]!.chain.find((p) => p.type === "trim")!.bySection).toEqual({});
});

test("undo and redo outlive a reload; a new change drops what was undone", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(2000));
  const start = await open(request, id);
  const mic = start.song.mics[0]!.id;
  await change(request, id, start.version, kickLevel(-3, mic));
  await change(request, id, start.version + 1, kickLevel(-6, mic));
  const step = (version: number, direction: string) =>
    request.post(`/api/songs/${id}/history`, { data: { version, direction } });
  await step(start.version + 2, "undo");
  let now = await open(request, id);
  expect([now.song.mics[0]!.level, now.undo, now.redo]).toEqual([-3, "test", "test"]);
  await step(now.version, "redo");
  now = await open(request, id);
  expect(now.song.mics[0]!.level).toBe(-6);
  await step(now.version, "undo");
  await change(request, id, now.version + 1, kickLevel(2, mic));
  now = await open(request, id);
  expect([now.song.mics[0]!.level, now.redo]).toEqual([2, null]);
  // The import itself can be undone, too.
  await step(now.version, "undo");
  await step(now.version + 1, "undo");
  await step(now.version + 2, "undo");
  expect((await open(request, id)).song.mics).toHaveLength(0);
});

test("a second tab with an old version is told, and nothing of the first is lost", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(2000));
  const { version, song } = await open(request, id);
  const mic = song.mics[0]!.id;
  expect((await change(request, id, version, kickLevel(-3, mic))).status()).toBe(200);
  const late = await change(request, id, version, kickLevel(-9, mic));
  expect(late.status()).toBe(409);
  expect(await late.json()).toMatchObject({
    code: "stale",
    message: expect.stringContaining("changed elsewhere"),
  });
  expect((await open(request, id)).song.mics[0]!.level).toBe(-3);
});

const good = noiseWav(1000, "wav32f");
const withNaN = Buffer.from(good);
withNaN.writeFloatLE(NaN, good.length - 400);
const wrongRiff = Buffer.from(good);
wrongRiff.writeUInt32LE(77, 4);
for (const [name, data, status, message] of [
  ["empty.wav", Buffer.alloc(0), 400, "is empty"],
  ["text.wav", Buffer.from("just some text that was renamed to .wav"), 400, "is no WAV, AIFF or FLAC file"],
  ["short.wav", good.subarray(0, 2000), 400, "ends too early"],
  ["header.wav", good.subarray(0, 50), 400, "cut off or damaged"],
  ["no frames.wav", noiseWav(0), 400, "0 frames"],
  ["nan.wav", withNaN, 400, "not a number at frame"],
  ["wrong size.wav", wrongRiff, 200, ""],
  ["Trömmel 🥁 a/b\\c.wav", noiseWav(900, "wav16", 5), 200, ""],
  ["96k.wav", noiseWav(9600, "wav24", 6, 96000), 200, ""],
] as [string, Buffer, number, string][]) {
  test(`file "${name}" is ${status === 200 ? "taken" : "refused with its name and the reason"}`, async ({
    request,
  }) => {
    const id = await newSong(request);
    const response = await sendFile(request, id, name, data);
    const body = (await response.json()) as { message?: string };
    expect(response.status()).toBe(status);
    if (status !== 200) {
      expect(body.message).toContain(name);
      expect(body.message).toContain(message);
    }
    expect((await open(request, id)).song.mics).toHaveLength(status === 200 ? 1 : 0);
  });
}

test("the same file twice is recognised by its content", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(1500));
  const again = await sendFile(request, id, "Kick copy.wav", noiseWav(1500));
  expect(again.status()).toBe(409);
  expect(((await again.json()) as { message: string }).message).toContain("Kick.wav");
});

test("another sample rate is converted to the song's and said", async ({ request }) => {
  const id = await newSong(request);
  await sendFile(request, id, "Kick.wav", noiseWav(48000, "wav24", 1));
  const answer = await sendFile(request, id, "Snare.wav", noiseWav(44100, "wav24", 2, 44100));
  const { remarks } = ((await answer.json()) as Delivered).taken[0]!;
  expect(remarks.join()).toContain("44100");
  expect((await open(request, id)).song.mics[1]!.frames).toBe(48000);
});

test("64 mics are taken, the 65th is refused", async ({ request }) => {
  const id = await newSong(request);
  for (let i = 0; i < 64; i++)
    expect((await sendFile(request, id, `mic ${i}.wav`, noiseWav(200, "wav16", i + 1))).status()).toBe(200);
  const more = await sendFile(request, id, "one more.wav", noiseWav(200, "wav16", 99));
  expect(more.status()).toBe(400);
  expect(((await more.json()) as { message: string }).message).toContain("64");
});

for (const [what, body] of [
  ["no JSON", "hello"],
  ["an empty object", {}],
  ["an unknown operation", { version: 1, label: "x", operation: { op: "explode" } }],
  [
    "a value out of range",
    { version: 1, label: "x", operation: { op: "setMic", mic: "m1", values: { level: 999 } } },
  ],
  [
    "a field too many",
    { version: 1, label: "x", operation: { op: "setMic", mic: "m1", values: { level: 0 }, sudo: true } },
  ],
  [
    "a broken one inside several",
    { version: 1, label: "x", operation: { op: "several", operations: [{ op: "setBus" }] } },
  ],
  ["mics by the back door", { version: 1, label: "x", operation: { op: "addMics", mics: [] } }],
] as [string, string | object][])
  test(`a change with ${what} is refused clearly`, async ({ request }) => {
    const id = await newSong(request);
    const response = await request.post(`/api/songs/${id}/operations`, {
      data: body,
      headers: { "content-type": "application/json" },
    });
    expect(response.status()).toBe(400);
    expect(((await response.json()) as { message: string }).message).toContain("Nothing was changed");
  });

test("ids that do not exist are said so", async ({ request }) => {
  const ghost = "00000000-0000-4000-8000-000000000000";
  for (const path of [
    `/api/songs/${ghost}`,
    `/api/songs/nonsense`,
    `/api/audio/${ghost}`,
    `/api/tasks/${ghost}`,
    `/api/files/${ghost}`,
    `/api/songs/${ghost}/archive`,
  ]) {
    const response = await request.get(path);
    expect(response.status(), path).toBe(404);
    expect(((await response.json()) as { message: string }).message.length).toBeGreaterThan(10);
  }
});

test("other hosts and other pages are refused", async ({ request }) => {
  expect((await request.get("/api/songs", { headers: { host: "evil.example" } })).status()).toBe(421);
  expect(
    (
      await request.post("/api/songs", { data: { title: "x" }, headers: { origin: "http://evil.example" } })
    ).status(),
  ).toBe(403);
  // Uploads are not behind the proxy and check themselves.
  const upload = "/api/uploads/00000000-0000-4000-8000-000000000000?from=0";
  for (const path of [upload, "/api/archives"])
    for (const headers of [{ host: "evil.example" }, { origin: "http://evil.example" }] as Record<
      string,
      string
    >[]) {
      const method = path === upload ? "PUT" : "POST";
      const response = await request.fetch(path, { method, headers, data: noiseWav(100) });
      expect([403, 421]).toContain(response.status());
    }
  const page = await request.get("/");
  expect(page.headers()["content-security-policy"]).toContain("default-src 'self'");
  expect(page.headers()["cross-origin-embedder-policy"]).toBe("require-corp");
});

test("an archive imported again is the identical song", async ({ request }) => {
  const id = await newSong(request, "Archive");
  const kit = writeKit("archive", 41, 3);
  for (const file of kit.files) await sendFile(request, id, file.split("/").pop()!, readFileSync(file));
  const { version, song } = await open(request, id);
  await change(request, id, version, kickLevel(-4.5, song.mics[0]!.id));
  const archive = await (await request.get(`/api/songs/${id}/archive`)).body();
  const made = await request.post("/api/archives", {
    data: archive,
    headers: { "content-type": "application/zip" },
  });
  expect(made.status()).toBe(200);
  const copy = ((await made.json()) as { id: string }).id;
  const without = (s: Song) => ({ ...s, mics: s.mics.map((m) => ({ ...m, audio: null })) });
  const [a, b] = [await open(request, id), await open(request, copy)];
  expect(without(b.song)).toEqual(without(a.song));
  for (const [i, m] of b.song.mics.entries())
    expect(
      (await (await request.get(`/api/audio/${m.audio}`)).body()).equals(readFileSync(kit.files[i]!)),
    ).toBe(true);
  // The archive of the copy is the same archive, byte for byte.
  expect((await (await request.get(`/api/songs/${copy}/archive`)).body()).equals(archive)).toBe(true);
});

test("a damaged archive is refused and leaves no song behind", async ({ request }) => {
  const count = async () =>
    ((await (await request.get("/api/songs")).json()) as { songs: unknown[] }).songs.length;
  const before = await count();
  const id = await newSong(request, "Broken archive");
  await sendFile(request, id, "Kick.wav", noiseWav(50_000, "wav24"));
  const archive = await (await request.get(`/api/songs/${id}/archive`)).body();
  for (const bad of [
    archive.subarray(0, archive.length / 2),
    Buffer.from("PK nonsense"),
    Buffer.concat([archive.subarray(0, 3000), Buffer.alloc(500), archive.subarray(3500)]),
  ]) {
    const response = await request.post("/api/archives", {
      data: bad,
      headers: { "content-type": "application/zip" },
    });
    expect(response.status()).toBe(400);
  }
  expect(await count()).toBe(before + 1);
});

test("what cannot be read or stored is refused in words, by the server and not by its framework", async ({
  request,
  baseURL,
}) => {
  const id = await newSong(request);
  const json = { "content-type": "application/json" };
  const post = (path: string, data: string) => request.post(path, { data, headers: json });
  const operation = (inner: string) => `{"version":0,"label":"x","operation":${inner}}`;
  for (const [path, body] of [
    ["/api/songs", '{"title":"a\\u0000b"}'],
    ["/api/songs", '{"title":"a\\ud800b"}'],
    [`/api/songs/${id}/uploads`, '{"name":"a\\ud800.wav","bytes":10,"mark":"x"}'],
    [`/api/songs/${id}/operations`, operation('{"op":"setSong","values":{"title":"a\\u0000"}}')],
    [`/api/songs/${id}/revisions`, '{"name":"a\\u0000","note":""}'],
    ["/api/chains", '{"name":"a\\u0000","chain":[]}'],
  ] as const) {
    const answer = await post(path, body);
    expect(answer.status(), `${path} ${body}`).toBe(400);
    expect(await answer.text()).toContain("holds a NUL or half a character");
  }
  for (const megabytes of [12, 17, 30]) {
    const answer = await post(
      `/api/songs/${id}/operations`,
      operation(`{"op":"setSong","values":{"title":"${"a".repeat(1e6 * megabytes)}"}}`),
    );
    expect(answer.status(), `${megabytes} MB`).toBe(megabytes < 16 ? 400 : 413);
    expect(await answer.text()).not.toContain("not JSON");
  }
  const ghost = "00000000-0000-4000-8000-000000000000";
  expect(
    (
      await request.post(`/api/songs/${ghost}/uploads`, { data: { name: "a.wav", bytes: 8e9, mark: "" } })
    ).status(),
  ).toBe(404);
  expect((await request.fetch("/api/songs", { method: "TRACE" }).catch(() => null))?.status() ?? 405).toBe(
    405,
  );
  const raw = (path: string) =>
    new Promise<number>((done, failed) => {
      const { hostname, port } = new URL(baseURL!);
      get({ hostname, port, path }, (answer) => done(answer.resume().statusCode!)).on("error", failed);
    });
  for (const path of ["/songs/%F0%28%8C%28", "/api/songs/%F0%28%8C%28", "/songs/%00"])
    expect(await raw(path), path).toBe(400);
});
