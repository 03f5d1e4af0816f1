import { expect, test, type APIRequestContext } from "@playwright/test";
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { writeMidi } from "midi-file";
import yazl from "yazl";
import type { Song } from "../src/core/song/song";
import { integers, le, pcm, riff, riffChunk, wavFormat } from "../src/core/testing/files";
import { noise } from "../src/core/testing/signals";
import { noiseWav, scratch } from "./kit";

const rate = 48000;
const newSong = async (request: APIRequestContext): Promise<string> =>
  ((await (await request.post("/api/songs", { data: { title: "Delivery" } })).json()) as { id: string }).id;
const songOf = async (request: APIRequestContext, id: string): Promise<Song> =>
  ((await (await request.get(`/api/songs/${id}`)).json()) as { song: Song }).song;
const begin = async (request: APIRequestContext, song: string, name: string, bytes: number) =>
  (await (await request.post(`/api/songs/${song}/uploads`, { data: { name, bytes, mark: "1" } })).json()) as {
    id: string;
    received: number;
  };
const sendPart = (request: APIRequestContext, upload: string, from: number, data: Buffer) =>
  request.put(`/api/uploads/${upload}?from=${from}`, {
    data,
    headers: { "content-type": "application/octet-stream" },
  });
/** Sends a file in one part and has it taken. */
async function deliver(request: APIRequestContext, song: string, name: string, data: Buffer) {
  const { id } = await begin(request, song, name, data.length);
  await sendPart(request, id, 0, data);
  const answer = await request.post(`/api/uploads/${id}`, { data: {} });
  return (await answer.json()) as {
    taken?: { file: string; remarks: string[] }[];
    refused?: { file: string; message: string }[];
    message?: string;
  };
}
/** A broadcast file of noise that began at a time of day, with cue points. */
function broadcast(seconds: number, startsAt: number, seed: number, cues: readonly [number, string][] = []) {
  const x = noise(Math.round(seconds * rate), seed);
  const points = cues.flatMap(([at], i) => [
    ...le(i + 1, 4),
    ...le(i, 4),
    100,
    97,
    116,
    97,
    ...le(0, 8),
    ...le(at * rate, 4),
  ]);
  const labels = cues.flatMap(([, name], i) =>
    riffChunk("labl", [...le(i + 1, 4), ...Buffer.from(`${name}\0`)]),
  );
  return Buffer.from(
    riff(
      riffChunk("bext", [...new Array<number>(338).fill(0), ...le(rate * startsAt, 8), 1, 0]),
      riffChunk("fmt ", wavFormat(1, 16, 1, rate)),
      riffChunk("data", pcm(integers(x, 16), 16, true)),
      ...(cues.length > 0
        ? [
            riffChunk("cue ", [...le(cues.length, 4), ...points]),
            riffChunk("LIST", [97, 100, 116, 108, ...labels]),
          ]
        : []),
    ),
  );
}

test("an upload that breaks off goes on where it stopped", async ({ request }) => {
  const song = await newSong(request);
  const file = noiseWav(40000, "wav24");
  const { id } = await begin(request, song, "Kick.wav", file.length);
  expect(await (await sendPart(request, id, 0, file.subarray(0, 50000))).json()).toEqual({ received: 50000 });
  // A page that is opened anew finds what is there; a part that does not follow is refused and named.
  expect(await begin(request, song, "Kick.wav", file.length)).toEqual({ id, received: 50000 });
  const gap = await sendPart(request, id, 60000, file.subarray(60000));
  expect(gap.status()).toBe(409);
  expect(((await gap.json()) as { message: string }).message).toContain("50000 bytes of Kick.wav are there");
  const early = await request.post(`/api/uploads/${id}`, { data: {} });
  expect(early.status()).toBe(409);
  await sendPart(request, id, 50000, file.subarray(50000));
  expect(await (await request.post(`/api/uploads/${id}`, { data: {} })).json()).toMatchObject({
    taken: [{ file: "Kick.wav" }],
  });
  expect((await songOf(request, song)).mics[0]!.frames).toBe(40000);
  expect((await request.post(`/api/uploads/${id}`, { data: {} })).status()).toBe(404); // it is done with
});

test("more bytes than were told are refused", async ({ request }) => {
  const song = await newSong(request);
  const { id } = await begin(request, song, "Kick.wav", 100);
  // Far too much as well: who still sends is told why.
  for (const bytes of [200, 20_000_000]) {
    const answer = await sendPart(request, id, 0, Buffer.alloc(bytes));
    expect(answer.status()).toBe(400);
    expect(await answer.text()).toContain("More bytes came than the 100 of Kick.wav");
  }
  expect((await sendPart(request, "none", 0, Buffer.alloc(20_000_000))).status()).toBe(404);
  expect((await sendPart(request, id, 0, Buffer.alloc(100))).status()).toBe(200);
});

test("AIFF and FLAC come in, are played and exported as WAV; the originals stay", async ({ request }) => {
  const folder = join(scratch, "formats");
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, "a.wav"), noiseWav(rate, "wav24", 3));
  execFileSync("flac", ["-s", "-f", "a.wav", "-o", "Snare.flac"], { cwd: folder });
  writeFileSync(join(folder, "b.wav"), noiseWav(rate, "wav24", 4));
  execFileSync("sox", ["b.wav", "Kick.aiff"], { cwd: folder });
  const song = await newSong(request);
  for (const name of ["Snare.flac", "Kick.aiff"])
    expect(await deliver(request, song, name, readFileSync(join(folder, name)))).toMatchObject({
      taken: [{ file: name }],
    });
  const { mics } = await songOf(request, song);
  expect(mics.map((m) => [m.piece, m.frames])).toEqual([
    ["snare", rate],
    ["kick", rate],
  ]);
  const ids = mics.map((m) => m.audio).join(",");
  expect((await request.get(`/api/audio?ids=${ids}&from=0&count=2048`)).status()).toBe(200);
  const archive = await (await request.get(`/api/songs/${song}/archive`)).body();
  expect(archive.includes(readFileSync(join(folder, "Snare.flac")))).toBe(true);
});

test("files that start late fall in place, whichever comes first; cue points become sections", async ({
  request,
}) => {
  const song = await newSong(request);
  await deliver(request, song, "Snare.wav", broadcast(1, 36001.5, 2));
  const { taken } = await deliver(
    request,
    song,
    "Kick.wav",
    broadcast(2, 36000, 1, [
      [0.25, "count"],
      [1, "verse"],
    ]),
  );
  expect(taken).toHaveLength(1);
  const { mics, frames, sections } = await songOf(request, song);
  expect(mics.map((m) => [m.piece, m.start])).toEqual([
    ["snare", 72000],
    ["kick", 0],
  ]);
  expect(frames).toBe(120000);
  expect(sections).toMatchObject([
    { name: "count", from: 0.25, to: 1 },
    { name: "verse", from: 1, to: 2.5 },
  ]);
  // The streamed frames of the late file begin with silence, to the frame.
  const late = mics[0]!;
  const body = await (
    await request.get(`/api/audio?ids=${late.audio}&starts=72000&from=71000&count=2000`)
  ).body();
  const head = JSON.parse(body.subarray(4, 4 + body.readUInt32LE(0)).toString()) as {
    skip: number;
    frames: number;
  }[];
  expect(head).toMatchObject([{ skip: 1000, frames: 1000 }]);
});

test("a ZIP comes in file by file, a damaged one is named; a MIDI file brings the tempo", async ({
  request,
}) => {
  const song = await newSong(request);
  const zip = new yazl.ZipFile();
  zip.addBuffer(noiseWav(20000, "wav16", 1), "take/Kick.wav");
  zip.addBuffer(noiseWav(20000, "wav16", 2).subarray(0, 9000), "take/Snare.wav");
  zip.addBuffer(noiseWav(960000, "wav16", 3), "take/Hat.wav");
  zip.addBuffer(Buffer.from("hello"), "take/read me.txt");
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream) parts.push(part as Buffer);
  const { taken, refused } = await deliver(request, song, "take.zip", Buffer.concat(parts));
  expect(taken!.map((t) => t.file)).toEqual(["Hat.wav", "Kick.wav"]);
  expect(refused).toMatchObject([
    { file: "take/Snare.wav", message: expect.stringContaining("ends too early") },
  ]);
  const midi = writeMidi({
    header: { format: 0, numTracks: 1, ticksPerBeat: 480 },
    tracks: [
      [
        { deltaTime: 0, meta: true, type: "setTempo", microsecondsPerBeat: 600000 },
        { deltaTime: 0, meta: true, type: "marker", text: "intro" },
        { deltaTime: 0, meta: true, type: "endOfTrack" },
      ],
    ],
  });
  expect(await deliver(request, song, "tempo.mid", Buffer.from(midi))).toMatchObject({
    taken: [{ file: "tempo.mid" }],
  });
  const { tempo, sections } = await songOf(request, song);
  expect(tempo).toMatchObject({ bpm: expect.closeTo(100, 6), beatsPerBar: 4 });
  expect(sections).toMatchObject([{ name: "intro", from: 0 }]);
});

test("two keys label the chosen file, and its pan follows", async ({ page, request }) => {
  const song = await newSong(request);
  await deliver(request, song, "Audio 1.wav", noiseWav(20000, "wav24"));
  await page.goto(`/songs/${song}`);
  await page.getByText("Audio 1").first().click();
  const list = page.getByRole("group", { name: /^Files/ });
  await list.focus();
  await page.keyboard.press("Shift+O");
  await page.keyboard.press("l");
  await expect(page.getByLabel("Drum of Audio 1.wav")).toHaveValue("overhead");
  await expect(page.getByLabel("Place of Audio 1.wav")).toHaveValue("left");
  const micNow = async () => (await songOf(request, song)).mics[0]!;
  await expect.poll(async () => (await micNow()).place).toBe("left");
  const mic = await micNow();
  expect(mic).toMatchObject({ piece: "overhead", sure: 1 });
  expect(mic.chain.find((p) => p.type === "pan")!.params["position"]).toBe(-100);
  // A plain key that follows nothing labels nothing.
  await page.keyboard.press("r");
  await page.keyboard.press("Control+z");
  await expect.poll(async () => (await micNow()).place).not.toBe("left");
});
